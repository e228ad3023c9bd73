import type { Equipment, EquipmentRecord } from '@gephyra/contract';
import useSWR from 'swr';
import { ApiError, api } from '../api/client.ts';
import { useToasts } from '../ui/toasts.tsx';

const EMPTY: Equipment = { printers: [], presets: [] };

/** The equipment's printers, fits and presets, and a way to change them that the server keeps. */
export function useEquipment(): {
  readonly equipment: Equipment;
  readonly ready: boolean;
  change(make: (equipment: Equipment) => Equipment): Promise<void>;
} {
  const toasts = useToasts();
  const { data, mutate } = useSWR<EquipmentRecord, Error>('equipment', api.equipment, { revalidateOnFocus: false });
  return {
    equipment: data?.equipment ?? EMPTY,
    ready: data !== undefined,
    change: async (make) => {
      try {
        const now = data ?? (await api.equipment());
        await mutate(await api.saveEquipment(now.revision, make(now.equipment)), { revalidate: false });
      } catch (error) {
        toasts.say({ text: (error as Error).message, tone: 'stop' });
        if (error instanceof ApiError && error.code === 'equipment.stale') await mutate();
      }
    },
  };
}
