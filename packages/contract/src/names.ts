import { SUBJECT_NAMES, type Subject } from './defects.js';

/** Readings that a person knows by another name than their defect's. */
const READING_NAMES: Record<string, string> = {
  'hotPixels spotCount': 'Lens spots',
  'hotPixels specksPerFrame': 'Specks',
  'softness softFramesPct': 'Soft frames',
  'noise bluePct': 'Noise, blue',
  'conform width': 'Picture size',
  'conform frameRate': 'Frame rate',
  'conform variableFrameRate': 'Even frame rate',
  'conform interlaced': 'Scan',
  'conform bitDepth': 'Bit depth',
  'conform range': 'Range',
  'conform effectiveScale': 'Detail for its size',
  'conform repeatedPct': 'Repeated frames',
  'conform lostFrames': 'Lost frames',
  'conform blockiness': 'Compression blocks',
};

/** What a finding, a limit or a step is about, by the name that a person knows. */
export const findingName = ({
  defect,
  reading,
}: {
  readonly defect: Subject;
  readonly reading: string;
}): string => READING_NAMES[`${defect} ${reading}`] ?? SUBJECT_NAMES[defect];
