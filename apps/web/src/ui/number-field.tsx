import { type KeyboardEvent, useId, useRef, useState } from 'react';
import { parseMeasure, showMeasure } from './measure.ts';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly unit?: string;
  /** what an arrow key adds; Shift takes ten times, Alt a tenth */
  readonly step?: number;
  readonly digits?: number;
  readonly min?: number;
  readonly max?: number;
  /** shown when the value is the default it came from */
  readonly hint?: string;
  readonly hideLabel?: boolean;
  readonly disabled?: boolean;
  onCommit(value: number): void;
}

/**
 * A field for a measure: takes sums and units, steps with the arrow keys, gives back the old value on Escape, and says
 * what it does not understand.
 */
export function NumberField(props: Props) {
  const { label, value, unit = 'mm', step = 1, digits = 2, min = -Infinity, max = Infinity, hint } = props;
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const dirty = useRef(false);
  const shown = text ?? showMeasure(value, digits);

  const problemOf = (x: number | null): string | null => {
    if (x === null) return 'This is no number.';
    if (x < min) return `At least ${showMeasure(min, digits)}${unit && ` ${unit}`}.`;
    if (x > max) return `At most ${showMeasure(max, digits)}${unit && ` ${unit}`}.`;
    return null;
  };
  const commit = (): void => {
    if (!dirty.current) {
      setText(null);
      return;
    }
    const x = parseMeasure(shown);
    const problem = problemOf(x);
    setWrong(problem);
    if (problem || x === null) return;
    dirty.current = false;
    setText(null);
    if (Math.abs(x - value) > 1e-12) props.onCommit(x);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>): void => {
    if (event.key === 'Enter') commit();
    else if (event.key === 'Escape') {
      dirty.current = false;
      setText(null);
      setWrong(null);
      event.stopPropagation();
    } else if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
      event.preventDefault();
      const by = step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1) * (event.key === 'ArrowUp' ? 1 : -1);
      const from = parseMeasure(shown) ?? value;
      const to = Math.min(max, Math.max(min, Number((from + by).toFixed(6))));
      dirty.current = false;
      setText(null);
      setWrong(null);
      props.onCommit(to);
    }
  };
  return (
    <div className="min-w-0 grow">
      <label htmlFor={id} className={props.hideLabel ? 'sr-only' : 'mb-0.5 block text-sm text-ink-soft'}>
        {label}
      </label>
      <div
        className={`flex h-[30px] items-center rounded border bg-sheet px-2 focus-within:border-lapis ${wrong ? 'border-stop' : 'border-rule-strong'} ${props.disabled ? 'opacity-50' : ''}`}
      >
        <input
          id={id}
          type="text"
          inputMode="decimal"
          autoComplete="off"
          spellCheck={false}
          disabled={props.disabled}
          className="num w-full min-w-0 bg-transparent outline-none"
          value={shown}
          aria-invalid={wrong !== null}
          aria-describedby={wrong || hint ? `${id}-note` : undefined}
          onChange={(e) => {
            dirty.current = true;
            setText(e.target.value);
            setWrong(null);
          }}
          onFocus={(e) => e.target.select()}
          onBlur={commit}
          onKeyDown={onKeyDown}
        />
        <span aria-hidden className="ml-1 text-sm text-ink-soft">
          {unit}
        </span>
      </div>
      {(wrong || hint) && (
        <p id={`${id}-note`} className={`mt-0.5 text-sm ${wrong ? 'text-stop' : 'text-ink-soft'}`}>
          {wrong ?? hint}
        </p>
      )}
    </div>
  );
}
