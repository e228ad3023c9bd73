// @vitest-environment jsdom
import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useNudge } from './use-nudge.ts';

describe('what is nudged by keys', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());
  const made = () => {
    const told: number[] = [];
    return { told, ...renderHook(() => useNudge(300, (x: number) => void told.push(x))) };
  };

  it('is made a change once, at the last place, when the keys rest', () => {
    const { told, result } = made();
    act(() => result.current.push(1));
    act(() => vi.advanceTimersByTime(200));
    act(() => result.current.push(2));
    act(() => vi.advanceTimersByTime(299));
    expect(told).toEqual([]);
    act(() => vi.advanceTimersByTime(1));
    expect(told).toEqual([2]);
  });

  it('is made one at once when it is settled, and not again', () => {
    const { told, result } = made();
    act(() => result.current.settle());
    expect(told).toEqual([]);
    act(() => result.current.push(5));
    act(() => result.current.settle());
    expect(told).toEqual([5]);
    act(() => vi.advanceTimersByTime(1000));
    expect(told).toEqual([5]);
  });

  it('is dropped when it goes away', () => {
    const { told, result, unmount } = made();
    act(() => result.current.push(5));
    unmount();
    act(() => vi.advanceTimersByTime(1000));
    expect(told).toEqual([]);
  });
});
