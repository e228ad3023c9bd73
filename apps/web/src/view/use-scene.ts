import { compose, IDENTITY, inverse } from '@gephyra/core/plan';
import { type RefObject, useEffect, useState } from 'react';
import { useProject } from '../project/project.tsx';
import type { Label, Marker, Shown } from '../project/shown.ts';
import { Scene } from './scene.ts';

interface Seen {
  readonly scene: Scene | null;
  /** where words stand over the view */
  readonly labels: readonly Label[];
  /** pixels a mm, at the model's depth */
  readonly scale: number;
  /** the middle of what is free of the view, in pixels */
  readonly middle: readonly [number, number];
}

/** The scene on a canvas, as large as that is and clear of the bar over it; null where the browser draws none. */
export function useScene(
  canvas: RefObject<HTMLCanvasElement | null>,
  bar: RefObject<HTMLElement | null>,
  picked: RefObject<(piece: string | null, x: number, y: number) => void>,
): Seen {
  const [scene, setScene] = useState<Scene | null>(null);
  const [labels, setLabels] = useState<readonly Label[]>([]);
  const [scale, setScale] = useState(1);
  const [middle, setMiddle] = useState<readonly [number, number]>([0, 0]);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    let made: Scene;
    try {
      made = new Scene(
        element,
        (l, s) => {
          setLabels(l);
          setScale(s);
        },
        (piece, x, y) => picked.current(piece, x, y),
      );
    } catch {
      return;
    }
    setScene(made);
    const fit = (): void => {
      const covered = bar.current ? bar.current.offsetTop + bar.current.offsetHeight : 0;
      made.resize(element.clientWidth, element.clientHeight, covered);
      setMiddle(made.middle);
    };
    const observer = new ResizeObserver(fit);
    observer.observe(element);
    if (bar.current) observer.observe(bar.current);
    return () => {
      observer.disconnect();
      made.dispose();
    };
  }, [canvas, bar, picked]);
  return { scene, labels, scale, middle };
}

/** Keeps a scene at what the project has come to and the station shows. */
export function useDrawn(scene: Scene | null, shown: Shown, near: Marker | null): void {
  const { view, searcher, geometry, model } = useProject();
  useEffect(() => {
    if (!scene || !view) return;
    scene.setView(view, geometry);
  }, [scene, view, geometry]);

  useEffect(() => {
    if (scene && model) scene.setOpenEdges(model.openEdges);
  }, [scene, model]);

  // the model itself is drawn first
  const drawn = view !== null;
  useEffect(() => {
    if (!scene || !searcher || !model || !drawn) return;
    const left = new AbortController();
    searcher
      .ask((engine) => engine.proxy(), { forget: left.signal, first: true })
      .then(
        (g) => !left.signal.aborted && scene.setStandIn(g),
        () => {},
      );
    return () => left.abort();
  }, [scene, searcher, model, drawn]);

  useEffect(() => {
    // the stand-in and the open edges are where the heavy steps left the model; light ones have moved it since
    scene?.show(shown, view && model ? compose(view.map, inverse(model.map)) : IDENTITY);
  }, [scene, shown, view, model]);

  useEffect(() => {
    if (near) scene?.fit(near);
  }, [scene, near]);
}
