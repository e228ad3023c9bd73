import { forecast, hoursText } from '@gephyra/core/plan';
import { format } from 'date-fns';
import { useState } from 'react';
import { NumberField } from '../../ui/number-field.tsx';
import { Facts } from '../../ui/panels.tsx';
import type { Standing } from './use-standing.ts';

/** What is yet to print, and when all of it is. */
export function LeftToPrint({ tally }: Pick<Standing, 'tally'>) {
  const [hoursADay, setHoursADay] = useState(10);
  const until = forecast(tally.hours.left, hoursADay, new Date());
  return (
    <section aria-label="Left to print" className="my-4">
      <h2 className="mb-1 text-base">Left to print</h2>
      <Facts
        rows={[
          ['time', hoursText(tally.hours.left)],
          ['weight', `${tally.grams.left.toFixed(0)} g`],
          ['cost', tally.cost.left.toFixed(2)],
          ['printed so far', `${hoursText(tally.hours.made)}, ${tally.grams.made.toFixed(0)} g`],
          ['failed prints', String(tally.failures)],
        ]}
      />
      <div className="mt-2">
        <NumberField
          label="Hours of printing a day"
          unit="h"
          value={hoursADay}
          min={0.5}
          max={240}
          onCommit={setHoursADay}
        />
      </div>
      {until && (
        <p className="mt-1">
          All printed on <strong>{format(until, 'EEEE, d MMMM')}</strong>.
        </p>
      )}
    </section>
  );
}
