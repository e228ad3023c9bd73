import { isListedAt } from '@gephyra/core/plan';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Triple } from '../../engine/types.ts';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import { ShowFaces } from '../../project/show-faces.tsx';
import type { Marker, Shown } from '../../project/shown.ts';
import { Button } from '../../ui/button.tsx';
import { Ledger, Part, Side } from '../../ui/panels.tsx';
import { Tabs } from '../../ui/tabs.tsx';
import { BodyList } from './bodies.tsx';
import { BorePanel } from './bore-panel.tsx';
import { HealthPanel } from './health-panel.tsx';
import { MeasurePanel } from './measure-panel.tsx';
import { PosePanel } from './pose-panel.tsx';
import { Preview } from './preview.tsx';
import { Lengths, PrinterFields } from './printer-panel.tsx';
import { Recipe } from './recipe.tsx';
import { SizeFields, UnitQuestion } from './size-panel.tsx';
import { IN_PLACE, SolidsPanel } from './solids-panel.tsx';
import { TailorPanel } from './tailor-panel.tsx';

const TOOLS = ['size', 'pose', 'health', 'solids', 'show', 'measure'] as const;
type Tool = (typeof TOOLS)[number];

const FORMAT_WORDS: Record<string, string> = {
  'stl-binary': 'binary STL',
  'stl-ascii': 'text STL',
  obj: 'OBJ',
  'ply-ascii': 'text PLY',
  'ply-binary': 'binary PLY',
  '3mf': '3MF',
  kit: 'a kit of several files',
};

interface Overlay {
  readonly markers: readonly Marker[];
  readonly focus: Marker | null;
  readonly path: Shown['path'];
  /** a girth is taken at this height of the model as shown */
  readonly height: number | null;
}

const NO_OVERLAY: Overlay = { markers: [], focus: null, path: null, height: null };

/** Bodies, the recipe, and the tools that add to it: size, pose, health, solids, measures. */
export default function ModelStation() {
  const { project, plan, view, candidate, preview, engine } = useProject();
  const { setPicker, open } = useWorkspace();
  const [{ tool: chosenTool, body }, select] = useSelection();
  const tool: Tool = TOOLS.find((t) => t === chosenTool) ?? 'size';
  const [overlay, setOverlay] = useState<Overlay>(NO_OVERLAY);
  const box = view?.box;
  const size = plan.printer.size;
  const measuring = overlay.height !== null || overlay.path !== null;
  const crate = useMemo(() => {
    if (!box || tool !== 'size' || measuring) return null;
    const middle = [0, 1].map((a) => (box.min[a] + box.max[a]) / 2);
    return { size, at: [middle[0] - size[0] / 2, middle[1] - size[1] / 2, box.min[2]] as const, follows: false };
  }, [box, size, tool, measuring]);
  const [sheet, setSheet] = useState<Shown['sheet']>(null);
  useEffect(() => {
    setSheet(null);
    if (overlay.height === null || !engine || !box) return;
    let alive = true;
    const origin: Triple = [(box.min[0] + box.max[0]) / 2, (box.min[1] + box.max[1]) / 2, overlay.height];
    const frame = { origin, normal: [0, 0, 1], u: [1, 0, 0], v: [0, 1, 0], offset: overlay.height } as const;
    engine.section(frame).then(
      (section) => alive && setSheet({ frame: section.frame, section }),
      () => {},
    );
    return () => {
      alive = false;
    };
  }, [overlay.height, engine, box]);
  useStationView(
    useMemo(
      () => ({
        crate,
        plain: true,
        selectedBody: body,
        markers: overlay.markers,
        focus: overlay.focus,
        path: overlay.path,
        sheet,
      }),
      [crate, body, overlay, sheet],
    ),
  );
  // leaving the station leaves what was only shown
  useEffect(
    () => () => {
      preview(null);
      setPicker(null);
    },
    [preview, setPicker],
  );
  const showMarkers = useCallback(
    (markers: readonly Marker[], focus: Marker | null) => setOverlay({ ...NO_OVERLAY, markers, focus }),
    [],
  );
  const showMeasure = useCallback(
    (markers: readonly Marker[], path: Shown['path']) => setOverlay({ ...NO_OVERLAY, markers, path }),
    [],
  );
  const showTailor = useCallback(
    (path: Shown['path'], height: number | null) => setOverlay({ ...NO_OVERLAY, path, height }),
    [],
  );
  const [fitting, setFitting] = useState(false);
  const own = view?.findings.filter((f) => isListedAt('model', f)) ?? [];
  return (
    <>
      <Ledger
        title="Model"
        action={
          <Button look="main" onClick={() => open('printable')}>
            Make it printable
          </Button>
        }
      >
        <p className="mb-3 break-words text-ink-soft text-sm">
          {project.source.fileName}, {FORMAT_WORDS[project.source.format] ?? project.source.format}
          {project.source.unit && project.source.unit !== 'mm' ? `, in ${project.source.unit}` : ''}
        </p>
        <BodyList />
        <Recipe />
        <p className="mt-3">
          <Link to={`/p/${project.id}/seams`} className="text-lapis underline underline-offset-2">
            Place seams by hand
          </Link>
        </p>
        <div className="mt-3 flex flex-col gap-2">
          <Findings list={own} />
          {project.source.notes.map((n) => (
            <p key={n} className="border-lapis border-l-[3px] bg-lapis-wash py-1.5 pr-2 pl-2.5">
              {n}
            </p>
          ))}
        </div>
      </Ledger>
      <Side>
        <Tabs
          label="Tools"
          tabs={TOOLS}
          chosen={tool}
          onChoose={(t) => {
            setOverlay(NO_OVERLAY);
            setPicker(null);
            select({ tool: t });
          }}
        >
          {candidate && !(tool === 'solids' && IN_PLACE.includes(candidate.kind)) && <Preview />}
          {tool === 'size' && (
            <>
              <Part title="Against the printer" note={`${plan.printer.name}, in mm`}>
                <Lengths />
              </Part>
              <Part title="Size">
                <UnitQuestion />
                <SizeFields />
              </Part>
              <Part
                title="Fit to a wearer"
                note={
                  <button
                    type="button"
                    className="text-lapis underline underline-offset-2"
                    aria-expanded={fitting}
                    onClick={() => setFitting(!fitting)}
                  >
                    {fitting ? 'fold away' : 'take a measure'}
                  </button>
                }
              >
                {fitting && <TailorPanel onShow={showTailor} />}
              </Part>
              <Part title="Printer">
                <PrinterFields />
              </Part>
            </>
          )}
          {tool === 'pose' && <PosePanel />}
          {tool === 'health' && <HealthPanel onShow={showMarkers} />}
          {tool === 'solids' && (
            <>
              <SolidsPanel onShow={showMarkers} />
              <BorePanel onShow={showMeasure} />
            </>
          )}
          {tool === 'show' && <ShowFaces />}
          {tool === 'measure' && <MeasurePanel onShow={showMeasure} />}
        </Tabs>
      </Side>
    </>
  );
}
