import { SUBJECT_NAMES, type Finding } from '@bevrin/contract';

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

export const findingName = ({ defect, reading }: Pick<Finding, 'defect' | 'reading'>): string =>
  READING_NAMES[`${defect} ${reading}`] ?? SUBJECT_NAMES[defect];
