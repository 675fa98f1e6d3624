import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { ViewingTransform } from '@bevrin/contract';
import type { ShownChannel } from '@bevrin/core/inspect';
import type { Tool } from './picture/tools.js';

/** How pictures are looked at. It stays from clip to clip, as the light in a room does. */
export interface Bench {
  readonly channel: ShownChannel;
  /** The viewing transform, and whether it is on. */
  readonly viewing: ViewingTransform | null;
  readonly through: boolean;
  /** Where plain and treated picture part, 0–1; `null` shows one of them. */
  readonly split: number | null;
  /** How many times the noise is amplified; `null` shows the picture. */
  readonly noiseGain: number | null;
  /** How the frames of a trial are set against those as they came. */
  readonly compare: Compare;
  readonly marks: boolean;
  readonly grid: boolean;
  readonly tool: Tool;
  readonly speed: number;
  readonly loop: boolean;
}

/** The treated frame alone, beside the untreated along a line, below it, what was taken away, or where. */
export const COMPARES = ['treated', 'split', 'above', 'taken', 'mask'] as const;
export type Compare = (typeof COMPARES)[number];

export const SPEEDS = [0.25, 0.5, 1, 2] as const;
export const NOISE_GAIN = 8;
export const TAKEN_GAIN = 8;

const initialState: Bench = {
  channel: 'colour',
  viewing: null,
  through: true,
  split: null,
  noiseGain: null,
  compare: 'treated',
  marks: true,
  grid: false,
  tool: 'look',
  speed: 1,
  loop: false,
};

export const bench = createSlice({
  name: 'bench',
  initialState: initialState as Bench,
  reducers: {
    set: (state, { payload }: PayloadAction<Partial<Bench>>) => ({ ...state, ...payload }),
  },
});
