import { format } from 'date-fns';
import { CircleHelp, Hourglass, PackageOpen, Redo2, Undo2 } from 'lucide-react';
import { Link } from 'react-router';
import { useUnderWay } from '../pages/under-way.tsx';
import { useProject } from '../project/project.tsx';
import { useWorkspace } from '../project/selection.tsx';
import { Button } from '../ui/button.tsx';
import { Rename } from '../ui/rename.tsx';
import { Tip } from '../ui/tip.tsx';
import { Bridge } from './bridge.tsx';

export function Header() {
  const { project, undo, redo, rename, saveState, savedAt, looking, retry, view, unsure } = useProject();
  const { open } = useWorkspace();
  const under = useUnderWay();
  const mendable = view?.findings.filter((f) => f.severity !== 'note') ?? [];
  const stops = mendable.filter((f) => f.severity === 'stop').length;
  return (
    <header className="bg-sheet">
      <div className="flex h-9 items-center gap-2 px-3">
        <Link to="/" className="mr-1 flex items-center gap-2 font-display font-semibold text-ink-soft hover:text-ink">
          <img src="/bridge.svg" alt="" width={20} height={20} />
          <span>Projects</span>
        </Link>
        <span aria-hidden className="text-rule-strong">
          /
        </span>
        <Rename
          value={project.name}
          label="Project name"
          className="max-w-80 font-display font-semibold text-lg"
          onCommit={rename}
        />
        <span role="status" className="text-ink-soft text-sm">
          {looking ? 'checking printed pieces' : saveState === 'saving' && 'saving'}
          {!looking && saveState === 'saved' && savedAt && `saved ${format(savedAt, 'HH:mm')}`}
        </span>
        {saveState === 'unsaved' && (
          <Button look="danger" onClick={retry}>
            Not saved, try again
          </Button>
        )}
        <span className="grow" />
        {under.jobs.length > 0 && (
          <Tip text="What the server is working on, for all projects">
            <Button look="quiet" onClick={() => open('work')}>
              <Hourglass size={15} aria-hidden /> {under.jobs.length} under way
            </Button>
          </Tip>
        )}
        <Tip text={project.undo ? `Undo: ${project.undo}` : 'Nothing to undo'} keys="Ctrl Z">
          <Button look="quiet" disabled={!undo} onClick={() => undo?.()}>
            <Undo2 size={15} aria-hidden /> Undo
          </Button>
        </Tip>
        <Tip text={project.redo ? `Redo: ${project.redo}` : 'Nothing to redo'} keys="Ctrl Shift Z">
          <Button look="quiet" disabled={!redo} onClick={() => redo?.()}>
            <Redo2 size={15} aria-hidden /> Redo
          </Button>
        </Tip>
        <Button
          look="quiet"
          disabled={!view || view.findings.length === 0}
          aria-busy={unsure}
          className={
            unsure ? 'text-ink-soft' : stops > 0 ? 'text-stop' : mendable.length > 0 ? 'text-warn' : 'text-good'
          }
          onClick={() => open('findings')}
        >
          {!view ? 'Being computed' : mendable.length > 0 ? `${mendable.length} to mend` : 'Nothing to mend'}
        </Button>
        <Button look="quiet" onClick={() => open('help')} aria-label="Help and shortcuts">
          <CircleHelp size={15} aria-hidden /> Help
        </Button>
        <Button look="main" disabled={!view} onClick={() => open('export')}>
          <PackageOpen size={15} aria-hidden /> Export pieces
        </Button>
      </div>
      <Bridge />
    </header>
  );
}
