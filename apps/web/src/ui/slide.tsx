import { Slider } from 'radix-ui';

interface Props {
  readonly label: string;
  readonly value: number;
  readonly min: number;
  readonly max: number;
  readonly step: number;
  /** the value in words */
  readonly text: string;
  readonly className?: string;
  onChange(value: number): void;
}

/** A thumb on a line. Arrow keys take a step, with Shift or Page Up ten, Home and End go to the ends. */
export function Slide({ label, value, min, max, step, text, className = '', onChange }: Props) {
  return (
    <Slider.Root
      value={[value]}
      min={min}
      max={max}
      step={step}
      onValueChange={([x]) => onChange(x)}
      className={`relative flex h-5 touch-none items-center ${className}`}
    >
      <Slider.Track className="relative h-1 grow rounded bg-rule-strong">
        <Slider.Range className="absolute h-full rounded bg-lapis" />
      </Slider.Track>
      <Slider.Thumb
        aria-label={label}
        aria-valuetext={text}
        className="block h-3.5 w-3.5 rounded-full border border-sheet bg-lapis"
      />
    </Slider.Root>
  );
}
