import type { PieceView } from '../engine/types.ts';
import type { MenuEntry } from '../ui/menu.tsx';
import { useProject } from './project.tsx';
import { useSelection, useWorkspace } from './selection.tsx';

/** What can be done with a piece, wherever it is shown. */
export function usePieceOffers(): (piece: PieceView) => readonly MenuEntry[] {
  const { change } = useProject();
  const [, select] = useSelection();
  const { only, setOnly } = useWorkspace();
  return (piece) => [
    { title: 'Show it', run: () => select({ piece: piece.key }) },
    {
      title: 'Show only it',
      run: () => {
        select({ piece: piece.key });
        if (!only) setOnly(true);
      },
    },
    {
      title: piece.aside ? 'Make it after all' : 'Set it aside, not made',
      apart: true,
      run: () =>
        void change(piece.aside ? `Make ${piece.code}` : `Set ${piece.code} aside`, {
          do: 'setPiece',
          key: piece.key,
          set: { aside: !piece.aside },
        }),
    },
  ];
}
