import { freeId, IDENTITY, type PlacedZone, perAxis, placeZone, type Zone } from '@gephyra/core/plan';
import { useMemo } from 'react';
import type { BoxView } from '../../engine/types.ts';
import { useProject } from '../../project/project.tsx';
import { axisName, pointInPlan } from '../../project/seam-math.ts';
import { useWorkspace } from '../../project/selection.tsx';
import type { Marker } from '../../project/shown.ts';
import { Button } from '../../ui/button.tsx';
import { Fold } from '../../ui/fold.tsx';
import { NumberField } from '../../ui/number-field.tsx';
import { Rename } from '../../ui/rename.tsx';

/** Zones as the view draws them: rings round spheres, edges of boxes. */
export function useZoneView(): { markers: Marker[]; boxes: { box: BoxView; text: string }[] } {
  const { plan, view } = useProject();
  const map = view?.map ?? IDENTITY;
  return useMemo(() => {
    const markers: Marker[] = [];
    const boxes: { box: BoxView; text: string }[] = [];
    for (const zone of plan.zones) {
      const placed = placeZone(zone, map);
      const text = zone.name || 'keep clear';
      if (placed.kind === 'sphere') markers.push({ at: placed.at, radius: placed.radius, text });
      else boxes.push({ box: reachOf(placed), text });
    }
    return { markers, boxes };
  }, [plan.zones, map]);
}

/** The box round a zone along the model's axes. */
function reachOf({ at, half }: Extract<PlacedZone, { kind: 'box' }>): BoxView {
  const reach = [0, 1, 2].map((a) => half.reduce((sum, edge) => sum + Math.abs(edge[a]), 0));
  return {
    min: perAxis(at, (x, a) => x - reach[a]),
    max: perAxis(at, (x, a) => x + reach[a]),
  };
}

/** The size of a zone that reaches to a place; a box keeps some thickness where the place is level with its middle. */
function reaching(zone: Zone, to: readonly number[]): Record<string, unknown> {
  const away = to.map((x, a) => Math.abs(x - zone.at[a]));
  const far = Math.hypot(...away);
  if (zone.kind === 'sphere') return { radius: Number(Math.max(0.5, far).toFixed(1)) };
  return { size: away.map((d) => Number((2 * Math.max(d, far / 4, 0.5)).toFixed(1))) };
}

/** Places that seams should keep out of: their list, and the keys that add one where the model is picked. */
export function Zones() {
  const { plan, view, change } = useProject();
  const { setPicker } = useWorkspace();
  const map = view?.map ?? IDENTITY;
  const size = view ? Math.max(...view.box.max.map((x, a) => x - view.box.min[a])) : 100;
  const add = (kind: Zone['kind']): void =>
    setPicker({
      prompt: 'Pick the middle of the zone that is to be kept clear.',
      onPlace: ({ at }) => {
        const id = freeId('z', plan.zones);
        const common = { id, name: '', at: pointInPlan(at, map) };
        const reach = Number((size / 20).toFixed(1));
        const zone: Zone =
          kind === 'sphere'
            ? { ...common, kind, radius: reach }
            : { ...common, kind, size: [reach * 2, reach * 2, reach * 2] };
        const given = change('Add a zone to keep clear', { do: 'addZone', zone }).get(id) ?? id;
        setPicker({
          prompt: 'Pick how far it reaches; Stop leaves it as it is.',
          onPlace: (edge) => {
            setPicker(null);
            change('Size the zone', { do: 'setZone', id: given, set: reaching(zone, pointInPlan(edge.at, map)) });
          },
        });
      },
    });
  return (
    <section aria-label="Keep clear" className="mt-4">
      <div className="mb-1 flex items-center justify-between gap-2">
        <h2 className="text-base">Keep clear</h2>
        <span className="flex gap-1">
          {(['sphere', 'box'] as const).map((kind) => (
            <Button
              key={kind}
              className="h-6 px-1.5 text-sm"
              aria-label={`Add a ${kind} to keep clear`}
              onClick={() => add(kind)}
            >
              + {kind}
            </Button>
          ))}
        </span>
      </div>
      {plan.zones.length === 0 && (
        <p className="text-ink-soft text-sm">Mark the details that no seam should run through.</p>
      )}
      <ul className="flex flex-col gap-2">
        {plan.zones.map((zone) => (
          <ZoneRow key={zone.id} zone={zone} />
        ))}
      </ul>
    </section>
  );
}

function ZoneRow({ zone }: { zone: Zone }) {
  const { change } = useProject();
  const name = zone.name || `${zone.kind === 'sphere' ? 'Sphere' : 'Box'} ${zone.id.slice(1)}`;
  const set = (label: string, next: Record<string, unknown>) =>
    change(label, { do: 'setZone', id: zone.id, set: next });
  return (
    <li className="border-warn border-l-[3px] pl-2">
      <div className="flex items-center gap-1">
        <Rename
          value={name}
          label="Zone name"
          className="h-6 grow"
          onCommit={(to) => set(`Rename ${name}`, { name: to })}
        />
        <button
          type="button"
          className="text-sm text-stop hover:underline"
          aria-label={`Delete ${name}`}
          onClick={() => change(`Delete ${name}`, { do: 'removeZone', id: zone.id })}
        >
          delete
        </button>
      </div>
      <Fold title="place and size">
        <div className="mt-1 grid grid-cols-3 gap-1">
          {[0, 1, 2].map((a) => (
            <NumberField
              key={a}
              label={`At ${axisName(a)}`}
              digits={1}
              value={zone.at[a]}
              onCommit={(x) => set(`Move ${name}`, { at: zone.at.map((y, k) => (k === a ? x : y)) })}
            />
          ))}
          {zone.kind === 'sphere' ? (
            <NumberField
              label="Radius"
              digits={1}
              min={0.1}
              value={zone.radius}
              onCommit={(radius) => set(`Size ${name}`, { radius })}
            />
          ) : (
            [0, 1, 2].map((a) => (
              <NumberField
                key={a}
                label={`Size ${axisName(a)}`}
                digits={1}
                min={0.1}
                value={zone.size[a]}
                onCommit={(x) => set(`Size ${name}`, { size: zone.size.map((y, k) => (k === a ? x : y)) })}
              />
            ))
          )}
        </div>
      </Fold>
    </li>
  );
}
