import { z } from 'zod';

/** The eight defects, in the order in which every page and document lists them. */
export const DEFECTS = [
  'shake',
  'noise',
  'flicker',
  'rollingShutter',
  'hotPixels',
  'banding',
  'moire',
  'softness',
] as const;

export const Defect = z.enum(DEFECTS);
export type Defect = z.infer<typeof Defect>;

export const DEFECT_NAMES: Record<Defect, string> = {
  shake: 'Shake',
  noise: 'Noise',
  flicker: 'Flicker',
  rollingShutter: 'Rolling shutter',
  hotPixels: 'Hot pixels',
  banding: 'Banding',
  moire: 'Moiré',
  softness: 'Softness',
};

/** What a finding can be about: one of the eight, or how the file meets the facts that the delivery asks for. */
export const SUBJECTS = [...DEFECTS, 'conform'] as const;
export const Subject = z.enum(SUBJECTS);
export type Subject = z.infer<typeof Subject>;
export const SUBJECT_NAMES: Record<Subject, string> = { ...DEFECT_NAMES, conform: 'Conform' };

export const VERDICTS = ['pass', 'marginal', 'fail', 'incomplete'] as const;
export const Verdict = z.enum(VERDICTS);
export type Verdict = z.infer<typeof Verdict>;
