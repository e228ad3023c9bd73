import { type Finding, stationOf } from '@gephyra/core/plan';
import { useNavigate } from 'react-router';
import { FINDING_LOOK } from '../project/findings.tsx';
import { useProject } from '../project/project.tsx';
import { STATIONS } from '../stations/registry.ts';
import { Button } from '../ui/button.tsx';
import { Dialog } from '../ui/dialog.tsx';

/** Findings of one code at one station. */
interface Kind {
  readonly code: string;
  readonly list: readonly Finding[];
}

const RANK = { stop: 0, warn: 1, note: 2 };

/** All findings of the project, by station and kind, the gravest first: each leads to its place, those of a kind are mended together. */
export function FindingsDialog({ onClose }: { onClose: () => void }) {
  const { project, view, change, unsure } = useProject();
  const navigate = useNavigate();
  const findings = view?.findings ?? [];
  /** The code of the piece that it is about, where its words do not have it. */
  const coded = ({ where, message }: Finding): string => {
    const code = view?.pieces.find((p) => p.key === where.piece)?.code;
    return code && !message.includes(code) ? `${code}: ` : '';
  };
  const show = (f: Finding): void => {
    const { joint, face, piece, seam, bed } = f.where;
    const to = new URLSearchParams();
    if (joint) to.set('joint', joint);
    else if (face) to.set('face', face);
    else if (piece) to.set('piece', piece);
    if (seam) to.set('seam', seam);
    if (bed) to.set('bed', bed);
    onClose();
    void navigate(`/p/${project.id}/${stationOf(f)}?${to.toString()}`);
  };
  return (
    <Dialog title="Findings" onClose={onClose} width="w-[44rem]">
      {findings.length === 0 && <p className="text-good">Nothing to mend.</p>}
      {unsure && (
        <p className="mb-2 text-ink-soft" role="status">
          Being computed again: some of these may be old.
        </p>
      )}
      {STATIONS.map((station) => {
        const kinds = kindsOf(findings.filter((f) => stationOf(f) === station.id));
        if (kinds.length === 0) return null;
        return (
          <section key={station.id} aria-label={station.name} className="mb-4">
            <h3 className="mb-1 font-semibold">{station.name}</h3>
            <ul className="flex flex-col gap-2">
              {kinds.map(({ code, list }) => (
                <li key={code}>
                  <ul className="flex flex-col gap-1">
                    {list.map((f) => (
                      <li
                        key={JSON.stringify([f.where, f.message])}
                        className={`border-l-[3px] py-1 pr-2 pl-2.5 ${FINDING_LOOK[f.severity].edge}`}
                      >
                        <button type="button" className="w-full text-left hover:underline" onClick={() => show(f)}>
                          <strong className={FINDING_LOOK[f.severity].text}>{FINDING_LOOK[f.severity].word}. </strong>
                          {coded(f)}
                          {f.message}
                        </button>
                      </li>
                    ))}
                  </ul>
                  <MendAll list={list} onMend={(label, mends) => change(label, ...mends)} />
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </Dialog>
  );
}

type Mend = NonNullable<Finding['mend']>;

/** Mends those of a kind that can be mended, as one step. */
function MendAll({
  list,
  onMend,
}: {
  list: readonly Finding[];
  onMend(label: string, mends: readonly Mend['change'][]): void;
}) {
  const mends = list.flatMap((f) => f.mend ?? []);
  if (mends.length < 2) return null;
  const label = `Mend all ${mends.length} of this kind`;
  return (
    <Button
      className="mt-1"
      onClick={() =>
        onMend(
          label,
          mends.map((m) => m.change),
        )
      }
    >
      {label}
    </Button>
  );
}

function kindsOf(findings: readonly Finding[]): Kind[] {
  const kinds = new Map<string, Finding[]>();
  for (const f of findings) kinds.set(f.code, [...(kinds.get(f.code) ?? []), f]);
  return [...kinds]
    .map(([code, list]) => ({ code, list }))
    .sort((a, b) => RANK[a.list[0].severity] - RANK[b.list[0].severity]);
}
