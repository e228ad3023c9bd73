import type { Finding } from '@gephyra/core/plan';
import { Button } from '../ui/button.tsx';
import { useProject } from './project.tsx';

export const FINDING_LOOK = {
  stop: { edge: 'border-stop bg-stop-wash', word: 'Stop', text: 'text-stop' },
  warn: { edge: 'border-warn bg-warn-wash', word: 'Mind', text: 'text-warn' },
  note: { edge: 'border-lapis bg-lapis-wash', word: 'Note', text: 'text-lapis' },
};

/**
 * Findings one under the other, each with the button that mends it; grey while they are those of an older plan. `measured`: some
 * are about prints or the order of joining, which are known later than the pieces.
 */
export function Findings({
  list,
  empty,
  measured = false,
}: {
  list: readonly Finding[];
  empty?: string;
  measured?: boolean;
}) {
  const { change, busy, unsure } = useProject();
  const old = measured ? unsure : busy;
  if (list.length === 0) return empty ? <p className={old ? 'text-ink-soft' : 'text-good'}>{empty}</p> : null;
  return (
    <ul className={`flex flex-col gap-2 ${old ? 'grayscale' : ''}`} aria-label="Findings" aria-busy={old}>
      {list.map((f) => (
        <li
          key={`${f.code}${f.where.joint ?? ''}${f.where.face ?? ''}${f.where.piece ?? ''}${f.where.seam ?? ''}${f.where.body ?? ''}${f.message}`}
          className={`border-l-[3px] py-1.5 pr-2 pl-2.5 ${FINDING_LOOK[f.severity].edge}`}
        >
          <p>
            <strong className={FINDING_LOOK[f.severity].text}>{FINDING_LOOK[f.severity].word}. </strong>
            {f.message}
          </p>
          {[...(f.mend ? [f.mend] : []), ...(f.mends ?? [])].map((mend) => (
            <Button
              key={mend.label}
              className="mt-1.5 mr-1.5 h-auto min-h-[30px] !whitespace-normal py-1 text-left"
              onClick={() => change(mend.label, mend.change)}
            >
              {mend.label}
            </Button>
          ))}
        </li>
      ))}
    </ul>
  );
}
