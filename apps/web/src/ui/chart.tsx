import type { BarSeriesOption, LineSeriesOption } from 'echarts/charts';
import type { GridComponentOption } from 'echarts/components';
import type { ComposeOption, EChartsType } from 'echarts/core';
import { useEffect, useRef } from 'react';

export type ChartOption = ComposeOption<BarSeriesOption | LineSeriesOption | GridComponentOption>;

/** What charts are made of, fetched when the first one is shown. */
const makers = (() => {
  let loading: Promise<(element: HTMLElement) => EChartsType> | null = null;
  return () => {
    loading ??= Promise.all([
      import('echarts/core'),
      import('echarts/charts'),
      import('echarts/components'),
      import('echarts/renderers'),
    ]).then(([core, { BarChart, LineChart }, { GridComponent }, { CanvasRenderer }]) => {
      core.use([BarChart, LineChart, GridComponent, CanvasRenderer]);
      return (element) => core.init(element, null, { renderer: 'canvas' });
    });
    return loading;
  };
})();

/** A browser may refuse a canvas: the label says all the same. */
const canDraw = (): boolean => Boolean(document.createElement('canvas').getContext('2d'));

/** A chart. `label` says in words what it shows: what is drawn is only for the eye. `onBar` is told which bar was clicked. */
export function Chart({
  label,
  option,
  className = '',
  onBar,
}: {
  label: string;
  option: ChartOption;
  className?: string;
  onBar?: (index: number) => void;
}) {
  const place = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  const wanted = useRef(option);
  wanted.current = option;
  const told = useRef(onBar);
  told.current = onBar;
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    let gone = false;
    const observer = new ResizeObserver(() => chart.current?.resize());
    void makers().then((make) => {
      if (gone || !canDraw()) return;
      chart.current = make(element);
      chart.current.setOption(wanted.current);
      chart.current.on('click', ({ dataIndex }) => told.current?.(dataIndex));
      observer.observe(element);
    });
    return () => {
      gone = true;
      observer.disconnect();
      chart.current?.dispose();
      chart.current = null;
    };
  }, []);
  useEffect(() => {
    chart.current?.setOption(option, { notMerge: true });
  }, [option]);
  return <div ref={place} role="img" aria-label={label} className={className} />;
}
