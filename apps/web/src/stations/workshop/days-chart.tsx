import { days, type LogEntry } from '@gephyra/core/plan';
import { useMemo } from 'react';
import { Chart, type ChartOption } from '../../ui/chart.tsx';
import { Part } from '../../ui/panels.tsx';

/** What had been printed and joined by each day. */
export function Days({
  log,
  copies,
}: {
  log: readonly LogEntry[];
  copies: readonly { readonly piece: string; readonly copy: number }[];
}) {
  const list = useMemo(() => days(log, copies), [log, copies]);
  const option = useMemo(
    (): ChartOption => ({
      animation: false,
      grid: { left: 26, right: 10, top: 8, bottom: 20 },
      xAxis: {
        type: 'category',
        data: list.map((d) => d.day.slice(5)),
        axisTick: { show: false },
        axisLine: { lineStyle: { color: '#1e2a32' } },
        axisLabel: { color: '#5e686c', fontSize: 12 },
      },
      yAxis: {
        type: 'value',
        max: Math.max(1, copies.length),
        minInterval: 1,
        axisLabel: { color: '#5e686c', fontSize: 12 },
        splitLine: { lineStyle: { color: '#e4dac6' } },
      },
      series: [
        { type: 'line', data: list.map((d) => d.printed), itemStyle: { color: '#2c7a66' } },
        { type: 'line', data: list.map((d) => d.joined), itemStyle: { color: '#1f5673' } },
      ],
    }),
    [list, copies],
  );
  if (list.length === 0) return null;
  const last = list[list.length - 1];
  return (
    <Part title="Days" note="green printed, blue joined">
      <Chart
        label={`${last.printed} printed and ${last.joined} joined by ${last.day}`}
        option={option}
        className="h-36 w-full"
      />
    </Part>
  );
}
