import type { HealthReport } from '@gephyra/contract';
import type { Defect } from '@gephyra/core/plan';
import { useEffect, useState } from 'react';
import { api, follow } from '../../api/client.ts';
import { useProject } from '../../project/project.tsx';
import { heavyPart } from '../../project/shaper.ts';

export interface HealthWork {
  readonly report: HealthReport | null;
  readonly what: string;
  readonly share: number;
  readonly failure: string | null;
}

const WAITING: HealthWork = { report: null, what: 'Waiting', share: 0, failure: null };

/** The health of the model as its heavy steps leave it, examined by the server. */
export function useHealth(): HealthWork {
  const { project, model, plan, candidate } = useProject();
  const [work, setWork] = useState<HealthWork & { key: string }>({ ...WAITING, key: '' });
  const key = model?.key ?? '';
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key says all that matters of the plan
  useEffect(() => {
    if (key === '' || candidate) return;
    const { steps, locked, key: wanted } = heavyPart(plan);
    if (wanted !== key) return;
    let alive = true;
    const run = async (): Promise<void> => {
      setWork({ ...WAITING, key });
      const job = await api.ask(project.id, 'health', { steps, locked });
      await follow(
        job,
        (now) => alive && setWork({ report: null, what: now.what, share: now.progress, failure: null, key }),
      );
      const report = await api.healthReport(job.id);
      if (alive) setWork({ report, what: '', share: 1, failure: null, key });
    };
    run().catch((error: Error) => alive && setWork({ ...WAITING, failure: error.message, key }));
    return () => {
      alive = false;
    };
  }, [project.id, key, candidate]);
  return work.key === key ? work : WAITING;
}

/** Defects of all bodies together by kind, the worst places first. */
export function together(report: HealthReport): (Defect & { readonly bodies: readonly string[] })[] {
  const byKind = new Map<string, Defect & { bodies: string[] }>();
  for (const h of report.bodies) {
    for (const d of h.defects) {
      const known = byKind.get(d.kind);
      if (known) {
        byKind.set(d.kind, {
          ...known,
          count: known.count + d.count,
          places: [...known.places, ...d.places],
          bodies: [...known.bodies, h.body],
        });
      } else byKind.set(d.kind, { ...d, bodies: [h.body] });
    }
  }
  if (report.overlaps.length > 0) {
    byKind.set('overlaps', {
      kind: 'overlaps',
      count: report.overlaps.length,
      places: report.overlaps.map(({ at }) => ({ at, radius: 0 })),
      bodies: [...new Set(report.overlaps.flatMap((o) => o.bodies))],
    });
  }
  return [...byKind.values()];
}
