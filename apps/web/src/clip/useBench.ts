import { useCallback } from 'react';
import { useDispatch, useSelector } from 'react-redux';
import { bench, type Bench } from './bench.js';
import type { State } from '../store.js';

/** How pictures are looked at, and a way to change it. */
export const useBench = (): readonly [Bench, (change: Partial<Bench>) => void] => {
  const dispatch = useDispatch();
  const change = useCallback((part: Partial<Bench>) => void dispatch(bench.actions.set(part)), [dispatch]);
  return [useSelector((s: State) => s.bench), change];
};
