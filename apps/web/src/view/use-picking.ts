import { useProject } from '../project/project.tsx';
import type { PickedPlace, Picker } from '../project/selection.tsx';
import type { Shown } from '../project/shown.ts';
import { useToasts } from '../ui/toasts.tsx';
import type { Scene } from './scene.ts';

/** What lies under a place of the view, in pixels: told to who asked for it, or looked for. */
export function usePicking(scene: Scene | null, shown: Shown, picker: Picker | null) {
  const { view, engine } = useProject();
  const toasts = useToasts();
  /** The place of the model under a place of the view, also where its piece lies on a bed. */
  const placeAt = async (x: number, y: number): Promise<PickedPlace | null> => {
    if (!scene || !engine) return null;
    if (!shown.lying) {
      const { origin, direction } = scene.rayAt(x, y);
      return await engine.pick(origin, direction, shown.hidden);
    }
    const place = scene.lyingAt(x, y);
    const body = place?.skin && view?.pieces.find((p) => p.key === place.of)?.body;
    return place && body ? { body, at: place.at, normal: place.normal } : null;
  };
  const pickPlace = async (x: number, y: number): Promise<void> => {
    if (!scene || !engine || !picker) return;
    const sight = scene.rayAt(x, y);
    picker.onSight?.(sight);
    const face = picker.onFace && scene.lyingAt(x, y);
    if (face) picker.onFace?.(face.onBed);
    if (!picker.onPlace && !picker.stroke) return;
    const place = await placeAt(x, y);
    if (!place) {
      toasts.say({ text: 'There is nothing of the model there. Pick a place on it.' });
      return;
    }
    picker.onPlace?.(place);
    picker.stroke?.onStroke([place]);
  };
  return { placeAt, pickPlace };
}
