import {
  amount as amountIn,
  rationalToNumber,
  settingOrder,
  settingWords,
  type ClipFacts,
  type Step,
} from '@bevrin/contract';

export const frameRateOf = (facts: Pick<ClipFacts, 'frameRate'>): number => rationalToNumber(facts.frameRate);

/** A figure with its unit, to as many digits as can be believed. */
export const amount = (value: number | null, unit: string): string =>
  value === null ? '–' : amountIn(value, unit);

export const rateText = (facts: ClipFacts): string =>
  `${Number(frameRateOf(facts).toFixed(3))} fps${facts.variableFrameRate ? ', variable' : ''}`;

export const factsText = (facts: ClipFacts): string =>
  `${facts.width}×${facts.height} · ${rateText(facts)} · ${facts.codec} ${facts.bitDepth} bit · ${facts.durationSec.toFixed(1)} s`;

/** When something was done: day and minute. */
export const whenText = (at: string): string => at.slice(0, 16).replace('T', ' ');

/** Minutes, seconds and frames from the start of the clip. */
export const timeText = (frame: number, rate: number): string => {
  const whole = Math.floor(frame / rate + 1e-9);
  const rest = Math.max(0, Math.round(frame - whole * rate));
  return `${String(Math.floor(whole / 60)).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}.${String(rest).padStart(2, '0')}`;
};

/** A setting's name with its unit, as a label. */
export const settingName = (key: string): string => {
  const [name, unit] = settingWords(key);
  return unit ? `${name}, ${unit}` : name;
};

const valueText = (value: Step['settings'][string]): string => {
  if (Array.isArray(value)) return `${value.length} listed`;
  return typeof value === 'boolean' ? (value ? 'on' : 'off') : String(value);
};

/** The settings of a step in words: name, figure, unit. */
export const settingTexts = (settings: Step['settings']): string[] =>
  Object.entries(settings)
    .sort(([a], [b]) => settingOrder(a) - settingOrder(b))
    .map(([key, value]) => {
      const [name, unit] = settingWords(key);
      // A figure is not parted from its unit at the end of a line.
      return `${name} ${valueText(value)}${unit && `\u00a0${unit}`}`;
    });
