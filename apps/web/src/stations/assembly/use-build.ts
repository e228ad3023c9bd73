import { useEffect, useRef, useState } from 'react';

/** Steps that pass in a second while it plays. */
const PACE = 0.7;

/** The moment of the build that is shown, from nothing joined (0) to all of it; it can be played. */
export function useBuild(steps: number) {
  const [moment, setMoment] = useState(steps);
  const [playing, setPlaying] = useState(false);
  const last = useRef(0);
  // another order is seen as a whole
  useEffect(() => {
    setMoment(steps);
    setPlaying(false);
  }, [steps]);
  useEffect(() => {
    if (!playing) return;
    last.current = performance.now();
    let frame = requestAnimationFrame(function on(now) {
      const passed = (PACE * (now - last.current)) / 1000;
      last.current = now;
      setMoment((m) => Math.min(steps, m + passed));
      frame = requestAnimationFrame(on);
    });
    return () => cancelAnimationFrame(frame);
  }, [playing, steps]);
  useEffect(() => {
    if (moment >= steps) setPlaying(false);
  }, [moment, steps]);
  return {
    moment: Math.min(moment, steps),
    playing,
    go: (to: number) => {
      setPlaying(false);
      setMoment(to);
    },
    play: () => {
      setMoment((m) => (m >= steps ? 0 : m));
      setPlaying(true);
    },
    stop: () => setPlaying(false),
  };
}
