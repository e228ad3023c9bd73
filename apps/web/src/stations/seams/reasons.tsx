import { reasonWords, type Seam } from '@gephyra/core/plan';
import { Part } from '../../ui/panels.tsx';

/** Why a proposed seam is where it is. */
export function Reasons({ seam: { reasons } }: { seam: Seam }) {
  if (!reasons || reasons.length === 0) return null;
  return (
    <Part title="Why here" note="proposed">
      <ul aria-label="Why here" className="list-disc pl-4 text-ink-soft">
        {reasons.map((r) => (
          <li key={r.kind}>{reasonWords(r)}</li>
        ))}
      </ul>
    </Part>
  );
}
