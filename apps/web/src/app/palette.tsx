import { useId, useState } from 'react';
import { Dialog } from '../ui/dialog.tsx';
import { useCommands } from './commands.ts';

/** Finds a command by a few of its letters. */
export function Palette({ onClose }: { onClose: () => void }) {
  const commands = useCommands().filter((c) => !c.off && c.title !== 'Find a command');
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const id = useId();
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = commands.filter((c) => words.every((w) => c.title.toLowerCase().includes(w)));
  const current = Math.min(at, found.length - 1);
  const run = (i: number): void => {
    onClose();
    found[i]?.run();
  };
  return (
    <Dialog title="Find a command" onClose={onClose} width="w-[28rem]">
      <input
        type="text"
        role="combobox"
        aria-expanded="true"
        aria-controls={`${id}-list`}
        aria-activedescendant={found[current] ? `${id}-${current}` : undefined}
        aria-label="Command"
        placeholder="seam, undo, joints"
        className="mb-2 h-9 w-full rounded border border-rule-strong bg-sheet px-2.5 focus:border-lapis focus:outline-none"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(found.length - 1, current + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, current - 1));
          else if (e.key === 'Enter') run(current);
          else return;
          e.preventDefault();
        }}
      />
      <div id={`${id}-list`} role="listbox" aria-label="Commands" className="slim-scroll max-h-80 overflow-y-auto">
        {found.map((c, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: the field above has the keys
          <div
            key={c.title}
            id={`${id}-${i}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === current}
            className={`flex cursor-pointer justify-between rounded px-2.5 py-1.5 ${i === current ? 'bg-lapis text-sheet' : ''}`}
            onClick={() => run(i)}
            onPointerMove={() => setAt(i)}
          >
            <span>{c.title}</span>
            {c.keys && <span className="num text-[12px] opacity-80">{c.keys}</span>}
          </div>
        ))}
        {found.length === 0 && <p className="px-2.5 py-1.5 text-ink-soft">No command has these letters.</p>}
      </div>
    </Dialog>
  );
}
