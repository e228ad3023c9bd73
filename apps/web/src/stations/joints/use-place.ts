import { type Affine, IDENTITY, type Plan, partPlace, type SeamPlace, seamPlace } from '@gephyra/core/plan';
import type { FaceView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';

/** Where (u, v) of a seam, of a part of it, or of a contact of two bodies lie. */
function placeOn(plan: Pick<Plan, 'seams' | 'contacts'>, id: string, part: number | undefined, map: Affine): SeamPlace {
  const contact = plan.contacts.find((c) => c.id === id);
  if (contact) return seamPlace(contact, map);
  const seam = plan.seams.find((s) => s.id === id) ?? plan.seams[0];
  return partPlace(seam, part ?? 0, map) ?? seamPlace(seam, map);
}

/** The place of a face or joint in the open project. Contacts that the plan does not keep yet are those of the view. */
export function usePlaces(): (of: Pick<FaceView, 'seam'> & { part?: number | undefined }) => SeamPlace {
  const { plan, view } = useProject();
  const contacts = view?.contacts ?? plan.contacts;
  return ({ seam, part }) =>
    placeOn({ seams: plan.seams, contacts: [...contacts] as Plan['contacts'] }, seam, part, view?.map ?? IDENTITY);
}
