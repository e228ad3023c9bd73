import { IDENTITY, isListedAt, type Seam } from '@gephyra/core/plan';
import { useEffect, useMemo, useState } from 'react';
import { Findings } from '../../project/findings.tsx';
import { useProject } from '../../project/project.tsx';
import { axisName, baseAxis, cutsInPart, seamInPlan, seamOnModel, seamTitle } from '../../project/seam-math.ts';
import { useSelection, useStationView, useWorkspace } from '../../project/selection.tsx';
import { Companion, Ledger, Part, Side } from '../../ui/panels.tsx';
import { Tabs } from '../../ui/tabs.tsx';
import { Caliper } from './caliper.tsx';
import { areaCut, cutRegions } from './choose-regions.ts';
import { ColourPanel } from './colour-panel.tsx';
import { FlatsPanel, flatMarkers, isBent } from './flats-panel.tsx';
import { GridPanel } from './grid-panel.tsx';
import { LandmarkList } from './landmark-list.tsx';
import { PlaceWays } from './place-ways.tsx';
import type { NewSeam } from './placing.ts';
import { ProposePanel } from './propose-panel.tsx';
import { Reasons } from './reasons.tsx';
import { RegionsPanel } from './regions-panel.tsx';
import { ScopePanel } from './scope-panel.tsx';
import { SeamList } from './seam-list.tsx';
import { SeamPanel } from './seam-panel.tsx';
import { seamSheets } from './sheets.ts';
import { SidesPanel } from './sides-panel.tsx';
import { TiltPanel } from './tilt-panel.tsx';
import { useAlong } from './use-along.ts';
import { useSection } from './use-section.ts';
import { useZoneView, Zones } from './zones.tsx';

const TABS = ['place', 'regions', 'flats', 'scope', 'sides'] as const;
type Tab = (typeof TABS)[number];

/** Seams: their list, the ways to place one, the caliper with the section profile, regions, scope and sides. */
export default function SeamsStation() {
  const { plan, view } = useProject();
  const { setPicker } = useWorkspace();
  const [{ seam: chosen, tool }, select] = useSelection();
  const map = view?.map ?? IDENTITY;
  const seams = useMemo(() => plan.seams.map((s) => seamOnModel(s, map)), [plan.seams, map]);
  const selected = seams.find((s) => s.id === chosen) ?? seams[0] ?? null;
  const inPlan = plan.seams.find((s) => s.id === selected?.id) ?? null;
  const [moving, setMoving] = useState<{ id: string; at: number } | null>(null);
  const [walls, setWalls] = useState(false);
  const [gridQuads, setGridQuads] = useState<Float32Array | null>(null);
  const [preview, setPreview] = useState<NewSeam | null>(null);
  const tab: Tab = TABS.find((t) => t === tool) ?? 'place';
  const tabs = TABS.filter((t) =>
    t === 'regions' ? selected?.kind === 'flat' : t !== 'flats' || (selected && isBent(selected)),
  );

  // what the seam would be at the place it is dragged to
  const live = useMemo(() => {
    if (!selected || moving?.id !== selected.id) return selected;
    const origin = [...selected.origin] as Seam['origin'];
    origin[baseAxis(selected.normal)] = moving.at;
    return { ...selected, origin };
  }, [selected, moving]);
  // what is only tried is shown in place of what is selected
  const tried = useMemo(() => (preview ? ({ ...preview, id: '', enabled: true } as Seam) : null), [preview]);
  const drawn = useMemo(() => (tried ? seamOnModel(tried, map) : live), [tried, live, map]);
  const section = useSection(drawn, walls && live?.kind === 'flat');
  const isMoving = moving !== null && moving.id === selected?.id;
  const kept = tried ?? inPlan;
  const cut = useMemo(() => (section && kept ? cutRegions(section, kept, map) : []), [section, kept, map]);
  // the panels are about what is selected, never about what is tried
  const own = tried ? null : section;
  const zones = useZoneView();
  const box = view?.box;
  useStationView(
    useMemo(() => {
      const loops = (on: boolean): Float64Array[] =>
        section?.regions.flatMap((r, i) => ((cut[i] ?? true) === on ? [r.outer2, ...r.holes2] : [])) ?? [];
      const flat = drawn?.kind === 'flat' && drawn.enabled && section;
      const bound = inPlan?.kind === 'flat' && inPlan.bound ? [{ box: inPlan.bound, text: '' }] : [];
      return {
        plain: plan.seams.length === 0 && !tried,
        sheet:
          flat && !gridQuads
            ? {
                frame: section.frame,
                section: { frame: section.frame, area: 0, loops: loops(true) },
                faint: loops(false),
                part: drawn.scope !== undefined || cutsInPart(drawn),
              }
            : null,
        quads: gridQuads
          ? gridQuads
          : inPlan && !tried && live && live.kind !== 'flat' && live.enabled && box
            ? seamSheets(inPlan, map, box)
            : null,
        dragging: isMoving && section ? { normal: section.frame.normal, offset: section.frame.offset } : null,
        markers: [...zones.markers, ...(inPlan?.enabled ? flatMarkers(inPlan, map) : [])],
        boxes: [...zones.boxes, ...bound],
      };
    }, [section, cut, drawn, tried, live, inPlan, isMoving, plan.seams.length, zones, map, box, gridQuads]),
  );
  useEffect(() => () => setPicker(null), [setPicker]);

  return (
    <>
      <Ledger title="Seams">
        <PlaceWays seams={seams} selected={selected} onTry={setPreview} />
        <SeamList seams={seams} selected={selected?.id ?? null} />
        <Zones />
        <div className="mt-4">
          <Findings list={(view?.findings ?? []).filter((f) => isListedAt('seams', f))} />
        </div>
      </Ledger>
      <Side>
        {tool === 'grid' ? (
          <GridPanel onShow={setGridQuads} onDone={() => select({ tool: null })} />
        ) : tool === 'colours' ? (
          <ColourPanel onShow={setGridQuads} onDone={() => select({ tool: null })} />
        ) : tool === 'propose' ? (
          <ProposePanel onShow={setGridQuads} onDone={() => select({ tool: null })} />
        ) : selected && live && inPlan ? (
          <>
            {inPlan.kind !== 'flat' ? (
              <SeamPanel key={inPlan.id} seam={inPlan} section={own} />
            ) : (
              <Flat seam={selected} live={live} cuts={own && areaCut(own, cut)} seams={seams} setMoving={setMoving} />
            )}
            <Tabs label="About this seam" tabs={tabs} chosen={tab} onChoose={(t) => select({ tool: t })}>
              {tab === 'place' && (
                <>
                  <Reasons seam={inPlan} />
                  <TiltPanel key={inPlan.id} seam={selected} />
                </>
              )}
              {tab === 'regions' && inPlan.kind === 'flat' && (
                <RegionsPanel seam={inPlan} section={own} cut={cut} walls={walls} onWalls={setWalls} />
              )}
              {tab === 'flats' && isBent(inPlan) && <FlatsPanel key={inPlan.id} seam={inPlan} />}
              {tab === 'scope' && <ScopePanel seam={inPlan} />}
              {tab === 'sides' && <SidesPanel seam={inPlan} />}
            </Tabs>
          </>
        ) : (
          <Part title="Section profile">
            <p className="text-ink-soft">Add a seam, and its profile and place show here.</p>
          </Part>
        )}
      </Side>
    </>
  );
}

/** Caliper and landmarks of a flat seam. */
function Flat({
  seam,
  live,
  cuts,
  seams,
  setMoving,
}: {
  seam: Seam;
  live: Seam;
  cuts: number | null;
  seams: readonly Seam[];
  setMoving: (moving: { id: string; at: number } | null) => void;
}) {
  const { change, view } = useProject();
  const map = view?.map ?? IDENTITY;
  const axis = baseAxis(seam.normal);
  const along = useAlong(seam, seams);
  const moveTo = (at: number, why?: string): void => {
    const origin = [...seam.origin] as Seam['origin'];
    origin[axis] = at;
    setMoving(null);
    change(`Move ${seamTitle(seam)} to ${why ? `the ${why}` : at.toFixed(1)}`, {
      do: 'setSeam',
      id: seam.id,
      set: { origin: seamInPlan({ ...seam, origin }, map).origin },
    });
  };
  return (
    <Companion title="Section profile" note={`along ${axisName(axis)}, mm`}>
      <Caliper
        key={seam.id}
        seam={live}
        along={along}
        at={live.origin[axis]}
        cuts={cuts}
        others={seams}
        onMove={(at) => setMoving({ id: seam.id, at })}
        onRelease={moveTo}
      />
      <LandmarkList seam={seam} along={along} at={live.origin[axis]} onLandmark={moveTo} />
    </Companion>
  );
}
