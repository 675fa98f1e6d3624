import { rationalToNumber, type ClipFacts, type Step } from '@bevrin/contract';

export const frameRateOf = (facts: Pick<ClipFacts, 'frameRate'>): number => rationalToNumber(facts.frameRate);

/** A figure with its unit, to as many digits as can be believed. */
export const amount = (value: number | null, unit: string): string => {
  if (value === null) return '–';
  const figure = Number(value.toPrecision(3));
  const named = unit === 'places' && figure === 1 ? 'place' : unit;
  const shown = String(figure).replace('-', '−');
  return named ? `${shown} ${named}` : shown;
};

export const rateText = (facts: ClipFacts): string =>
  `${Number(frameRateOf(facts).toFixed(3))} fps${facts.variableFrameRate ? ', variable' : ''}`;

export const factsText = (facts: ClipFacts): string =>
  `${facts.width}×${facts.height} · ${rateText(facts)} · ${facts.codec} ${facts.bitDepth} bit · ${facts.durationSec.toFixed(1)} s`;

/** Minutes, seconds and frames from the start of the clip. */
export const timeText = (frame: number, rate: number): string => {
  const whole = Math.floor(frame / rate + 1e-9);
  const rest = Math.max(0, Math.round(frame - whole * rate));
  return `${String(Math.floor(whole / 60)).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}.${String(rest).padStart(2, '0')}`;
};

const SETTING_NAMES: Record<string, string> = {
  framesEachSide: 'frames each side',
  lumaThresholdPct: 'luma threshold, %',
  chromaThresholdPct: 'chroma threshold, %',
  spatialStrengthPct: 'averaging over space, %',
  worstChannel: 'worst channel',
  grainBackPct: 'grain to bring back, %',
  by: 'by',
  bandsOverHeight: 'bands over the height',
  motionCompensation: 'motion compensation',
  strengthPct: 'strength, %',
  positions: 'positions',
  radiusPx: 'radius, px',
  method: 'method',
};

export const settingText = (name: string, value: Step['settings'][string]): string => {
  const shown = Array.isArray(value)
    ? `${value.length} listed`
    : typeof value === 'boolean'
      ? value
        ? 'on'
        : 'off'
      : String(value);
  return `${SETTING_NAMES[name] ?? name} ${shown}`;
};
