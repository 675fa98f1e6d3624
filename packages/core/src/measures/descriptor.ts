import type { z } from 'zod';
import type { Measured, OverrideName } from '#terms';
import type { FrameView } from '../picture/frame.js';
import type { Measure } from './measure.js';

/** How far a reading may be from the truth: a share of it, and an amount in the reading's unit on top. */
export interface Tolerance {
  readonly share?: number;
  readonly amount?: number;
}

/** One figure of a reading, as people are told of it. `V` are the values that it stands among. */
export interface Figure<V> {
  readonly label: string;
  /** Empty for an index or a number of things. */
  readonly unit: string;
  /** Which way is better; `null` where neither is. */
  readonly better: 'lower' | 'higher' | null;
  /** What a finding about it is called: a delivery spec may judge the figures that have a name. */
  readonly finding?: string;
  /** How far from the truth it may be at most, and how near we want it. */
  readonly accuracy?: { readonly bar: Tolerance; readonly goal: Tolerance };
  /** Half of its 90 % interval where the evidence is complete; it widens as the confidence falls. */
  readonly interval?: Tolerance;
  /** In words, where a number with its unit does not say it; `null` leaves it out. */
  readonly words?: (values: V) => string | null;
}

/** How much of a defect a viewer gets to see. All of them 0–1, and 1 where nothing else is known. */
export interface Visibility {
  /** Share of the clip's duration in which it shows. */
  readonly time: number;
  /** Share of the picture that it covers. */
  readonly area: number;
  /** Where it lies: 0 at the edge, 1 in the middle or in the technician's region of interest. */
  readonly place: number;
  /** How it stands out from its background. */
  readonly contrast: number;
}

/** Of what is known about a defect's visibility, that part; and the frames that it lies between. */
export type Extent = Partial<Visibility> & { readonly startFrame?: number; readonly endFrame?: number };

/** One line over time: a series of the reading with its words. */
export interface SeriesLabel {
  readonly label: string;
  readonly unit: string;
}

/**
 * All that is known about one defect besides how it is measured. Document, delivery specs, severity, pages, reports and
 * the accuracy tables are derived from the list of these in `all.ts`: whoever adds a defect adds a folder and a line there.
 */
export interface Descriptor<D extends string, V extends z.ZodType, S extends z.ZodType> {
  /** Its key in documents and specs. */
  readonly defect: D;
  readonly name: string;
  /** Short enough to stand over a narrow column. */
  readonly shortName: string;
  readonly values: V;
  readonly series: S;
  /** The figures of a reading in the order in which they are read. */
  readonly figures: { readonly [name: string]: Figure<z.infer<V>> };
  /** Figures that are lists, in words. */
  readonly alsoFigures?: (values: z.infer<V>) => readonly (readonly [label: string, text: string])[];
  readonly seriesLabels: { readonly [name: string]: SeriesLabel };
  /** What it needs to see. The feed is decoded once and serves all measures. */
  readonly needs: readonly FrameView[];
  /** What a technician may decide that changes its reading; in and out point and masks always do. */
  readonly overrides: readonly Exclude<OverrideName, 'range' | 'masks'>[];
  /** Where in the picture it is: all over it, in areas whose place counts, or in single points. */
  readonly lies: 'everywhere' | 'inAreas' | 'inPoints';
  /**
   * When and how plainly one of its figures shows; no limit plays a part in it.
   * @param name of the figure
   * @param frames of the clip
   */
  readonly extent?: (reading: Measured<z.infer<V>, z.infer<S>>, name: string, frames: number) => Extent;
  /** How strong it is in each frame, not negative; `null` where it was not followed frame by frame. */
  readonly strength?: (reading: Measured<z.infer<V>, z.infer<S>>) => (number | null)[] | null;
  /** A strength that one looks for: smaller ones stay small on a lane. */
  readonly plainStrength?: number;
  /** The frame to look at first, where the strength does not say it. */
  readonly worstFrame?: (reading: Measured<z.infer<V>, z.infer<S>>) => number | null;
  /** The values with every frame number in them moved by so many frames; left out where they hold none. */
  readonly moved?: (values: z.infer<V>, by: number) => z.infer<V>;
  /** Brings the values of a document that an earlier version wrote into the shape of today. */
  readonly upgrade?: (values: Readonly<Record<string, unknown>>) => unknown;
  /** The measure itself: only who measures loads it. */
  readonly load: () => Promise<Measure>;
}

/** A descriptor of whatever defect: for what treats all alike. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- functions over values differ for each defect
export type AnyDescriptor = Descriptor<string, any, any>;

/** Keeps the types of values and series for the functions of a descriptor. */
export const describeDefect = <const D extends string, V extends z.ZodType, S extends z.ZodType>(
  descriptor: Descriptor<D, V, S>,
): Descriptor<D, V, S> => descriptor;
