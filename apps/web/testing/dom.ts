// What a browser has and jsdom has not, as far as components ask for it.
import { cleanup, configure } from '@testing-library/react';
import { afterEach, beforeEach, vi } from 'vitest';

// a state is waited for, however busy the machine is
configure({ asyncUtilTimeout: 30_000 });

/** An element's size, told to whoever watches it. */
class Sizes {
  constructor(private readonly tell: ResizeObserverCallback) {}
  observe(element: Element): void {
    const { width, height } = element.getBoundingClientRect();
    const entry = {
      target: element,
      contentRect: { width, height },
      borderBoxSize: [{ inlineSize: width, blockSize: height }],
    };
    this.tell([entry as unknown as ResizeObserverEntry], this as never);
  }
  unobserve(): void {}
  disconnect(): void {}
}

/** For each test of a file: a page with elements of one size, taken down after it. */
export function page(width = 300, height = 240): void {
  beforeEach(() => {
    vi.stubGlobal('ResizeObserver', Sizes);
    Element.prototype.hasPointerCapture = () => false;
    Element.prototype.setPointerCapture = () => {};
    Element.prototype.releasePointerCapture = () => {};
    Element.prototype.scrollIntoView = () => {};
    Element.prototype.scrollTo = () => {};
    HTMLCanvasElement.prototype.getContext = () => null;
    vi.spyOn(Element.prototype, 'getBoundingClientRect').mockImplementation(
      () => ({ x: 0, y: 0, left: 0, top: 0, right: width, bottom: height, width, height, toJSON: () => '' }) as DOMRect,
    );
    for (const [name, value] of [
      ['offsetWidth', width],
      ['offsetHeight', height],
      ['clientWidth', width],
      ['clientHeight', height],
    ] as const) {
      vi.spyOn(HTMLElement.prototype, name as 'offsetWidth', 'get').mockReturnValue(value);
    }
  });
  afterEach(() => {
    cleanup();
    vi.restoreAllMocks();
    vi.unstubAllGlobals();
    localStorage.clear();
  });
}
