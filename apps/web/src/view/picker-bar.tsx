import type { Picker } from '../project/selection.tsx';
import { Button } from '../ui/button.tsx';

/** While a place is picked: the cross that the keyboard moves, what is to be picked, and the way out. */
export function PickerBar({
  picker,
  cross: [left, top],
  onCancel,
}: {
  picker: Picker;
  /** in pixels of the view */
  cross: readonly [number, number];
  onCancel: () => void;
}) {
  return (
    <>
      <svg
        aria-hidden="true"
        viewBox="-20 -20 40 40"
        className="-translate-x-1/2 -translate-y-1/2 pointer-events-none absolute h-10 w-10"
        style={{ left, top }}
      >
        <path d="M-20 0H-5M5 0H20M0 -20V-5M0 5V20" stroke="var(--color-cut)" strokeWidth="1.5" />
      </svg>
      {/* at the right: messages come in the lower left corner */}
      <div className="absolute right-3 bottom-14 flex w-max max-w-[77%] items-center gap-3 rounded border border-cut bg-sheet px-3 py-1.5">
        <p role="status">
          {picker.prompt}{' '}
          {!picker.take && (
            <span className="text-ink-soft">Click, or press Enter under the cross; Alt and arrows move it.</span>
          )}
        </p>
        {picker.take && (
          <Button look="main" className="h-7 shrink-0" onClick={picker.take.run}>
            {picker.take.title}
          </Button>
        )}
        <Button className="h-7" onClick={onCancel}>
          Stop
        </Button>
      </div>
    </>
  );
}
