import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useSearchParams } from 'react-router';
import type { Triple } from '../engine/types.ts';
import type { Marker, Shown } from './shown.ts';

export type Panel = 'export' | 'findings' | 'help' | 'palette' | 'work' | 'printable';

/** What a station may say about the 3D view. */
export type StationView = Partial<
  Pick<
    Shown,
    | 'plain'
    | 'crate'
    | 'sheet'
    | 'quads'
    | 'boxes'
    | 'dragging'
    | 'highlightFace'
    | 'book'
    | 'slide'
    | 'swung'
    | 'build'
    | 'lying'
    | 'markers'
    | 'path'
    | 'hidden'
    | 'selectedBody'
    | 'focus'
  >
>;

/** A place that was picked on the model: where, and the outward normal there. Both on the model as shown. */
export interface PickedPlace {
  readonly body: string;
  readonly at: Triple;
  readonly normal: Triple;
}

/** A line of sight through a place of the view. */
export interface Sight {
  readonly origin: Triple;
  readonly direction: Triple;
}

/** Waits for a place on the model, or for a place of the view, to be picked. */
export interface Picker {
  /** what is to be picked, said over the view */
  readonly prompt: string;
  /** what was picked last is only shown until this is pressed */
  readonly take?: { readonly title: string; run(): void };
  onPlace?(place: PickedPlace): void;
  /** told the outward normal, on the bed, of a face of what lies there */
  onFace?(normal: Triple): void;
  /** told where the place of the view is looked through, whether or not the model is there */
  onSight?(sight: Sight): void;
  /** told the places under a drag when it ends; a brush of this radius is drawn along it, mm */
  readonly stroke?: { readonly radius: number; onStroke(places: readonly PickedPlace[]): void };
}

/** Where the drawing of the model is cut off. */
export interface Clip {
  readonly by: 'off' | 'x' | 'y' | 'z' | 'seam';
  /** share of the model's length along the axis that is kept */
  readonly share: number;
  /** the other side is kept */
  readonly turned: boolean;
}

interface Workspace {
  readonly panel: Panel | null;
  open(panel: Panel | null): void;
  readonly apart: number;
  setApart(mm: number): void;
  readonly seeThrough: boolean;
  setSeeThrough(on: boolean): void;
  readonly clip: Clip;
  setClip(clip: Clip): void;
  /** nothing but the selected piece is shown */
  readonly only: boolean;
  setOnly(on: boolean): void;
  readonly folded: boolean;
  setFolded(on: boolean): void;
  /** the flat drawing is large in the middle, the 3D view small beside it */
  readonly swapped: boolean;
  setSwapped(on: boolean): void;
  readonly station: StationView;
  setStation(view: StationView): void;
  readonly picker: Picker | null;
  setPicker(picker: Picker | null): void;
  /** the place that the maker last asked to be taken near to */
  readonly near: Marker | null;
  goNear(place: Marker): void;
  /** the selections that were asked for and are not drawn yet, as they stand in the address, oldest first */
  readonly asked: { current: readonly string[] };
}

const Context = createContext<Workspace | null>(null);

export function useWorkspace(): Workspace {
  const workspace = useContext(Context);
  if (!workspace) throw new Error('There is no workspace here.');
  return workspace;
}

const NOTHING: StationView = {};

export function WorkspaceProvider({ children }: { children: ReactNode }) {
  const [panel, open] = useState<Panel | null>(null);
  const [apart, setApart] = useState(0);
  const [seeThrough, setSeeThrough] = useState(false);
  const [clip, setClip] = useState<Clip>({ by: 'off', share: 0.5, turned: false });
  const [only, setOnly] = useState(false);
  const [folded, setFolded] = useState(false);
  const [swapped, setSwapped] = useState(false);
  const [station, setStation] = useState<StationView>(NOTHING);
  const [picker, setPicker] = useState<Picker | null>(null);
  const [near, goNear] = useState<Marker | null>(null);
  const asked = useRef<readonly string[]>([]);
  const drawn = useLocation().search;
  useEffect(() => {
    // what was asked for before it is done with; an address that was not asked for here counts alone
    const at = asked.current.indexOf(drawn);
    asked.current = at < 0 ? [] : asked.current.slice(at + 1);
  }, [drawn]);
  const workspace = useMemo(
    () => ({
      panel,
      open,
      apart,
      setApart,
      seeThrough,
      setSeeThrough,
      clip,
      setClip,
      only,
      setOnly,
      folded,
      setFolded,
      swapped,
      setSwapped,
      station,
      setStation,
      picker,
      setPicker,
      near,
      goNear,
      asked,
    }),
    [panel, apart, seeThrough, clip, only, folded, swapped, station, picker, near],
  );
  return <Context value={workspace}>{children}</Context>;
}

/** Tells the 3D view what a station wants shown, for as long as the station is open. `shown` must be memoized. */
export function useStationView(shown: StationView): void {
  const { setStation } = useWorkspace();
  useEffect(() => {
    setStation(shown);
    return () => setStation(NOTHING);
  }, [shown, setStation]);
}

type Selected = 'seam' | 'joint' | 'face' | 'piece' | 'body' | 'tool' | 'step' | 'bed' | 'copy';

/**
 * What is selected, kept in the address, and a function that changes some of it in one go (null takes it away). The
 * address is drawn a little later than it is asked for: a change goes on from the newest that was asked for, so that of
 * two quick ones none is lost.
 */
export function useSelection(): [
  Readonly<Record<Selected, string | null>>,
  (change: Partial<Record<Selected, string | null>>) => void,
] {
  const { asked } = useWorkspace();
  const [params, setParams] = useSearchParams();
  const get = (what: Selected): string | null => params.get(what);
  return [
    {
      seam: get('seam'),
      joint: get('joint'),
      face: get('face'),
      piece: get('piece'),
      body: get('body'),
      tool: get('tool'),
      step: get('step'),
      bed: get('bed'),
      copy: get('copy'),
    },
    (change) => {
      const next = new URLSearchParams(asked.current.at(-1) ?? params);
      for (const [what, id] of Object.entries(change)) {
        if (id === null) next.delete(what);
        else next.set(what, id);
      }
      const text = next.toString() && `?${next}`;
      if (text !== asked.current.at(-1)) asked.current = [...asked.current, text];
      setParams(next, { replace: true });
    },
  ];
}
