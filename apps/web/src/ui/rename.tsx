import { useState } from 'react';

interface Props {
  readonly value: string;
  readonly label: string;
  readonly placeholder?: string;
  readonly className?: string;
  /** drawn as a field also while it is not edited */
  readonly framed?: boolean;
  onCommit(value: string): void;
}

/** A name that becomes a field when it is clicked; Enter keeps what was typed, Escape gives the old name back. */
export function Rename({ value, label, placeholder = '', className = '', framed = false, onCommit }: Props) {
  const [text, setText] = useState<string | null>(null);
  const keep = (): void => {
    const name = text?.trim();
    setText(null);
    if (name && name !== value) onCommit(name);
  };
  return (
    <input
      aria-label={label}
      className={`min-w-0 truncate rounded border px-1 hover:border-rule-strong focus:border-lapis focus:bg-sheet focus:outline-none ${framed ? 'border-rule-strong bg-sheet px-2' : 'border-transparent bg-transparent [field-sizing:content]'} ${className}`}
      value={text ?? value}
      placeholder={placeholder}
      maxLength={120}
      spellCheck={false}
      onChange={(e) => setText(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') e.currentTarget.blur();
        if (e.key === 'Escape') {
          e.stopPropagation();
          setText(null);
          e.currentTarget.value = value;
        }
      }}
    />
  );
}
