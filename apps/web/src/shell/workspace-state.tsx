import { createContext, type ReactNode, useContext, useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { Shown } from '../view/scene.ts';

export type Panel = 'export' | 'help' | 'palette';

/** What a station may say about the 3D view. */
export type StationView = Partial<Pick<Shown, 'plain' | 'crate' | 'sheet' | 'dragging' | 'highlightFace'>>;

interface Workspace {
  readonly panel: Panel | null;
  open(panel: Panel | null): void;
  readonly apart: number;
  setApart(mm: number): void;
  readonly seeThrough: boolean;
  setSeeThrough(on: boolean): void;
  readonly folded: boolean;
  setFolded(on: boolean): void;
  readonly station: StationView;
  setStation(view: StationView): void;
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
  const [folded, setFolded] = useState(false);
  const [station, setStation] = useState<StationView>(NOTHING);
  const workspace = useMemo(
    () => ({ panel, open, apart, setApart, seeThrough, setSeeThrough, folded, setFolded, station, setStation }),
    [panel, apart, seeThrough, folded, station],
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

/** One selection kept in the address: seam, joint, face or piece. */
export function useSelection(what: 'seam' | 'joint' | 'face' | 'piece'): [string | null, (id: string | null) => void] {
  const [params, setParams] = useSearchParams();
  return [
    params.get(what),
    (id) =>
      setParams(
        (old) => {
          const next = new URLSearchParams(old);
          if (id === null) next.delete(what);
          else next.set(what, id);
          return next;
        },
        { replace: true },
      ),
  ];
}
