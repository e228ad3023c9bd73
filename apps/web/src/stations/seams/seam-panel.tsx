import { IDENTITY, type Seam, seamKind } from '@gephyra/core/plan';
import { type ReactNode, useMemo } from 'react';
import { useProject } from '../../project/project.tsx';
import { seamTitle, wayInPlan } from '../../project/seam-math.ts';
import { AskedFields } from '../../ui/asked-fields.tsx';
import { Part } from '../../ui/panels.tsx';
import { FanDial } from './fan-dial.tsx';
import { ProfileLine } from './profile-line.tsx';
import { RingDial } from './ring-dial.tsx';
import type { SeamSection } from './use-section.ts';

interface DrawingProps<S extends Seam> {
  readonly seam: S;
  readonly section: SeamSection | null;
  /** mm on the model for each unit of the plan across the seam's normal */
  readonly scale: number;
}

/** Drawings in which seams are set by hand, of kinds that have one; any kind has its fields. */
const DRAWINGS: {
  readonly [K in Seam['kind']]?: (props: DrawingProps<Extract<Seam, { kind: K }>>) => ReactNode;
} = { fan: FanDial, ring: RingDial, profile: ProfileLine };

// a drawing is only ever given seams of its own kind
const drawingOf = ({ kind }: Seam) => DRAWINGS[kind] as ((props: DrawingProps<Seam>) => ReactNode) | undefined;

/** A seam that is no plane: its drawing and its sizes. */
export function SeamPanel({ seam, section }: { seam: Seam; section: SeamSection | null }) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const title = seamTitle(seam);
  const scale = useMemo(() => {
    const across = Math.hypot(...wayInPlan(section?.frame.u ?? [1, 0, 0], map));
    return across > 0 ? 1 / across : 1;
  }, [section, map]);
  const Drawing = drawingOf(seam);
  return (
    <>
      {Drawing && <Drawing seam={seam} section={section} scale={scale} />}
      <Part title="Sizes">
        <AskedFields
          fields={seamKind(seam).fields(seam, scale)}
          set={(says, next) => change(`${says} of ${title}`, { do: 'setSeam', id: seam.id, set: next })}
        />
      </Part>
    </>
  );
}
