import { Command } from 'cmdk';
import { Dialog } from '../ui/dialog.tsx';
import { useCommands } from './commands.ts';

/** Finds a command by a few of its letters. */
export function Palette({ onClose }: { onClose: () => void }) {
  const commands = useCommands().filter((c) => !c.off && c.title !== 'Find a command');
  return (
    <Dialog title="Find a command" onClose={onClose} width="w-[28rem]">
      <Command label="Command" loop>
        <Command.Input
          autoFocus
          placeholder="seam, undo, joints"
          className="mb-2 h-9 w-full rounded border border-rule-strong bg-sheet px-2.5 focus:border-lapis focus:outline-none"
        />
        <Command.List label="Commands" className="slim-scroll max-h-80 overflow-y-auto">
          <Command.Empty className="px-2.5 py-1.5 text-ink-soft">No command has these letters.</Command.Empty>
          {commands.map((c) => (
            <Command.Item
              key={c.title}
              value={c.title}
              onSelect={() => {
                onClose();
                c.run();
              }}
              className="flex cursor-pointer justify-between rounded px-2.5 py-1.5 data-[selected=true]:bg-lapis data-[selected=true]:text-sheet"
            >
              <span>{c.title}</span>
              {c.keys && <kbd className="num text-[12px] opacity-80">{c.keys}</kbd>}
            </Command.Item>
          ))}
        </Command.List>
      </Command>
    </Dialog>
  );
}
