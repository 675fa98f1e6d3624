import type { Finding, Step } from '#document';

const SECONDS_PER_MINUTE = 60;

/**
 * Minutes that the render of a step takes.
 * @param durationSec of the clip
 */
export const renderMinutes = ({ renderWeight }: Step['cost'], durationSec: number): number =>
  (renderWeight * durationSec) / SECONDS_PER_MINUTE;

/**
 * What a step is worth doing for: severity taken away, by how much it matters and the chance that it works, for a minute
 * of an artist and of rendering. Plans and work lists put first what has most of it.
 * @param chance 0–1
 * @param durationSec of the clip
 */
export const gainForEffort = (
  { severity, weight }: Pick<Finding, 'severity' | 'weight'>,
  cost: Step['cost'],
  chance: number,
  durationSec: number,
): number => (severity * weight * chance) / (cost.artistMinutes + renderMinutes(cost, durationSec));
