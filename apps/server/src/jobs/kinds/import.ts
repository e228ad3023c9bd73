import { boxOf, isClosed, sizeOf } from '@gephyra/core';
import { isArchive, readArchive } from '../archive.ts';
import { sourceOf, storedBytes } from '../models.ts';
import { type JobKind, MINUTE } from './kind.ts';

/** Reads a model, or a whole project that was written to a file. */
export const importing: JobKind<object> = {
  deadline: 10 * MINUTE,
  isLight: () => true,
  keep: null,
  work(request, tell) {
    const bytes = storedBytes(request);
    if (isArchive(bytes, request.fileName)) {
      const archived = readArchive(bytes, request.fileName);
      return { do: 'import', format: 'project', unit: null, bodies: [], notes: [], archived };
    }
    const { format, found } = sourceOf(request, tell);
    return {
      do: 'import',
      format,
      unit: found.unit,
      notes: [...found.notes],
      archived: null,
      bodies: found.bodies.map((b) => ({
        id: b.id,
        name: b.name,
        triangles: b.mesh.tags.length,
        size: [...sizeOf(boxOf(b.mesh.positions))] as [number, number, number],
        volume: b.volume,
        watertight: isClosed(b),
        openEdges: b.topology.openEdges,
        nonManifoldEdges: b.topology.nonManifoldEdges,
        inconsistentEdges: b.topology.inconsistentEdges,
      })),
    };
  },
};
