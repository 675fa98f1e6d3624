import type { Measurement, Step, TreatmentName, ViewingTransform } from '#document';
import type { Picture } from './sequence.js';
import type { SettingSchemas } from './settings.js';
import type { Study } from './study.js';

/** What a treatment does to frames: a reference repair, good enough to tell what a setting gains and harms. */
export interface Runner {
  readonly treatment: TreatmentName;
  readonly settings: SettingSchemas;
  /** The setting whose values a trial compares, and the values themselves about the one that a plan names. */
  readonly swept: string;
  sweepAbout(value: number): number[];
  /** Whether it is asked to change the light from frame to frame. */
  readonly changesLight?: boolean;
  /** Whether what it takes away stands in the picture as detail does: it is no noise, and no harm. */
  readonly takesStructure?: boolean;
  /** Frames that the reading which is judged has to see; a few are enough where it is not said. */
  readonly judgedOverFrames?: number;
  /** Treatments that a trial of it runs before, where the plan has them: without them it has nothing to work on. */
  readonly follows?: readonly TreatmentName[];
  /** How many frames before and after one it looks at. */
  neighbours(settings: Step['settings']): number;
  /**
   * @param study of the frames that are treated and their neighbours; the same for every setting that is tried
   * @param settings as they were checked
   * @param measurement of the clip
   * @param viewing what the picture is looked at through; as it is stored where none is named
   */
  begin(
    study: Study,
    settings: Step['settings'],
    measurement: Measurement,
    viewing?: ViewingTransform,
  ): RunningTreatment;
  /**
   * Several settings at once, for treatments of which one does on its way what another does: frame by frame each of them
   * is to treat it before the next frame is treated.
   * @param clock tells ms
   * @returns one for each of the settings; `null` where they share nothing
   */
  beginTogether?(
    study: Study,
    settings: readonly Step['settings'][],
    measurement: Measurement,
    viewing: ViewingTransform | undefined,
    clock: () => number,
  ): RunningTreatment[] | null;
}

/** A treatment at work. */
export interface RunningTreatment {
  /** How much of each axis it gives up, %; nothing where it is not said. */
  readonly cropPct?: number;
  /** The treated frame; a copy of its own. @param index among the frames of the study */
  treat(index: number): Picture;
  /** Of one that shares work with others: ms by which all its frames so far would have taken longer without them; below 0 where it worked for others. */
  readonly sparedMs?: number;
  /** What is taken away, or would show twice: 255 where, row by row of luma. For treatments that choose their places. */
  mask?(index: number): Uint8Array;
  /** How far the nodes of a net lie from where they are drawn: see {@link meshOf}. For treatments that move the picture. */
  mesh?(index: number): number[];
  /**
   * The treated frame back where it came from, for treatments that move the picture: what shows nothing is as it came. It is
   * resampled once more.
   */
  undo?(index: number, treated: Picture): Picture;
}
