import { Dialog } from '../ui/dialog.tsx';
import { useCommands } from './commands.ts';

/** Shortcuts, and the work in a few sentences. */
export function Help({ onClose }: { onClose: () => void }) {
  const keyed = useCommands().filter((c) => c.keys);
  const more: readonly (readonly [string, string])[] = [
    ['Turn the model', 'arrow keys in the view'],
    ['Nearer, farther', '+ and − in the view'],
    ['Move a seam or pin', 'arrow keys: 1 mm'],
    ['', 'with Shift 10, with Alt 0.1'],
    ['To the next snap of a seam', 'Page Up, Page Down'],
    ['Past the snaps', 'drag with Alt'],
    ['The cross while picking', 'Alt and arrows'],
    ['Old value of a field', 'Escape'],
  ];
  return (
    <Dialog title="Help" onClose={onClose} width="w-[52rem]">
      <div className="grid gap-6 sm:grid-cols-[2fr_3fr]">
        <div>
          <h3 className="mb-1.5">The work</h3>
          <ol className="flex list-decimal flex-col gap-1.5 pl-5">
            <li>At Model, choose the printer and the size.</li>
            <li>
              At Seams, add cut planes until every piece fits, or let a grid do it. The numbers beside the caliper turn
              red while a side is too long.
            </li>
            <li>At Joints, place pins on the mating faces and mend what is found.</li>
            <li>At Pieces, look over the list and export.</li>
          </ol>
          <p className="mt-3 text-ink-soft">
            Nothing is ever cut for good: seams and pins can be moved at any time, and every change can be undone, also
            tomorrow.
          </p>
        </div>
        <div>
          <h3 className="mb-1.5">Keys</h3>
          <dl className="grid grid-cols-[1fr_auto] gap-x-4 gap-y-1">
            {[...keyed.map((c) => [c.title, c.keys ?? ''] as const), ...more].map(([what, keys]) => (
              <div key={what + keys} className="contents">
                <dt>{what}</dt>
                <dd className="num text-right text-[12px] text-ink-soft">{keys}</dd>
              </div>
            ))}
          </dl>
        </div>
      </div>
    </Dialog>
  );
}
