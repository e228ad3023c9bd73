import type { ReactNode } from 'react';

/** What a proposal would change: a row a number, as it is now and as it would be. */
export function BeforeAfter<T>({
  title,
  rows,
  before,
  after,
}: {
  title: ReactNode;
  rows: readonly (readonly [name: string, text: (of: T) => string])[];
  before: T;
  after: T;
}) {
  return (
    <table className="w-full" aria-label="Before and after">
      <thead>
        <tr className="text-left text-ink-soft text-sm">
          <th className="font-normal">{title}</th>
          <th className="text-right font-normal">now</th>
          <th className="text-right font-normal">then</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, text]) => (
          <tr key={name} className="border-rule border-t">
            <th scope="row" className="text-left font-normal">
              {name}
            </th>
            <td className="num text-right">{text(before)}</td>
            <td className="num text-right">{text(after)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
