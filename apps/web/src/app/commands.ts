import { freeId } from '@gephyra/core/plan';
import { useNavigate } from 'react-router';
import { useProject } from '../project/project.tsx';
import { axisName, middleOfLongest, seamAcross, seamInPlan, seamOnModel } from '../project/seam-math.ts';
import { selectedPlace } from '../project/selected-place.ts';
import { useSelection, useWorkspace } from '../project/selection.tsx';
import { STATIONS } from '../stations/registry.ts';

export interface Command {
  readonly title: string;
  /** as it is shown: "Ctrl Z" */
  readonly keys?: string;
  /** whether a key press is this command's */
  readonly matches?: (event: KeyboardEvent) => boolean;
  /** nothing to run just now, as when there is nothing to undo */
  readonly off?: boolean;
  readonly run: () => void;
}

const plain = (e: KeyboardEvent): boolean => !e.ctrlKey && !e.metaKey && !e.altKey;

/** Everything that can be done by key or by the palette. */
export function useCommands(): Command[] {
  const { project, plan, view, undo, redo, change } = useProject();
  const w = useWorkspace();
  const [selected] = useSelection();
  const navigate = useNavigate();
  const go = (path: string) => () => void navigate(path);
  const commands: Command[] = STATIONS.map((s, i) => ({
    title: `Go to ${s.name}`,
    keys: String(i + 1),
    matches: (e) => plain(e) && e.key === String(i + 1),
    run: go(`/p/${project.id}/${s.id}`),
  }));
  commands.push({ title: 'Go to all projects', run: go('/') });
  commands.push(
    {
      title: undo ? `Undo: ${project.undo}` : 'Undo',
      keys: 'Ctrl Z',
      matches: (e) => (e.ctrlKey || e.metaKey) && !e.shiftKey && e.key.toLowerCase() === 'z',
      off: !undo,
      run: () => undo?.(),
    },
    {
      title: redo ? `Redo: ${project.redo}` : 'Redo',
      keys: 'Ctrl Shift Z',
      matches: (e) =>
        (e.ctrlKey || e.metaKey) && ((e.shiftKey && e.key.toLowerCase() === 'z') || e.key.toLowerCase() === 'y'),
      off: !redo,
      run: () => redo?.(),
    },
  );
  if (view) {
    for (const axis of [0, 1, 2]) {
      commands.push({
        title: `Add a seam across ${axisName(axis)}`,
        run: () => {
          const id = freeId('s', plan.seams);
          const on = plan.seams.map((s) => seamOnModel(s, view.map));
          const { up: _, ...seam } = seamAcross(id, axis, middleOfLongest(axis, view.box, on), view.box);
          const ids = change(`Add a seam across ${axisName(axis)}`, {
            do: 'addSeam',
            seam: { ...seam, ...seamInPlan(seam, view.map) },
          });
          void navigate(`/p/${project.id}/seams?seam=${ids.get(id) ?? id}`);
        },
      });
    }
    commands.push(
      { title: 'Make it printable', run: () => w.open('printable') },
      { title: 'Propose seams', run: go(`/p/${project.id}/seams?tool=propose`) },
      { title: 'Place a grid of seams', run: go(`/p/${project.id}/seams?tool=grid`) },
      { title: 'Mark show faces', run: go(`/p/${project.id}/model?tool=show`) },
      { title: 'Engrave codes on mating faces', run: go(`/p/${project.id}/pieces?tool=all`) },
      { title: 'Export pieces', run: () => w.open('export') },
      { title: 'See what is under way', run: () => w.open('work') },
    );
  }
  commands.push(
    {
      title: 'See through',
      keys: 'T',
      matches: (e) => plain(e) && e.key.toLowerCase() === 't',
      run: () => w.setSeeThrough(!w.seeThrough),
    },
    {
      title: w.clip.by === 'seam' ? 'Clip nothing' : 'Clip at the seam',
      keys: 'C',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'c',
      run: () => w.setClip({ ...w.clip, by: w.clip.by === 'seam' ? 'off' : 'seam' }),
    },
    {
      title: w.only ? 'Show all pieces' : 'Show only the selected piece',
      keys: 'O',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'o',
      run: () => w.setOnly(!w.only),
    },
    {
      title: 'Go near what is selected',
      keys: 'N',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'n',
      off: !(selected.joint || selected.face || selected.piece || selected.body || selected.seam),
      run: () => {
        const place = view && selectedPlace(view, selected, w.station.plain ? 0 : w.apart);
        if (place) w.goNear(place);
      },
    },
    {
      title: w.apart > 0 ? 'Put together' : 'Take apart',
      keys: 'A',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'a',
      run: () => w.setApart(w.apart > 0 ? 0 : 40),
    },
    {
      title: 'Swap the flat drawing and the 3D view',
      keys: 'X',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'x',
      run: () => w.setSwapped(!w.swapped),
    },
    {
      title: w.folded ? 'Unfold the columns' : 'Fold the columns away',
      keys: 'F',
      matches: (e) => plain(e) && e.key.toLowerCase() === 'f',
      run: () => w.setFolded(!w.folded),
    },
    {
      title: 'Find a command',
      keys: 'Ctrl K',
      matches: (e) => (e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k',
      run: () => w.open('palette'),
    },
    { title: 'Help and shortcuts', keys: '?', matches: (e) => e.key === '?', run: () => w.open('help') },
  );
  return commands;
}
