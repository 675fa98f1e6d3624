import type { DecidedStep, WorkItem } from '@bevrin/contract';

/** Minutes that a second of clip takes to render at a weight of one. */
const MINUTES_PER_SECOND = 1 / 60;

export interface Task {
  readonly item: WorkItem;
  readonly step: DecidedStep;
  readonly severity: number;
  readonly renderMinutes: number;
  /** Severity taken away, by the chance that it works, for a minute of an artist and of rendering. */
  readonly gain: number;
}

/** Every step of every plan, the most gain for the least effort first. */
export const tasksOf = (items: readonly WorkItem[]): Task[] =>
  items
    .flatMap((item) =>
      item.plan.steps.map((step) => {
        const severity = item.severity[step.treatment] ?? 0;
        const renderMinutes = step.cost.renderWeight * item.durationSec * MINUTES_PER_SECOND;
        const gain = (severity * step.confidence) / (step.cost.artistMinutes + renderMinutes);
        return { item, step, severity, renderMinutes, gain };
      }),
    )
    .sort((a, b) => b.gain - a.gain);

/** How many other clips of the list one setting can treat together with each, by treatment and likeness. */
export const togetherWith = (tasks: readonly Task[]): Map<string, number> => {
  const groups = new Map<string, number>();
  for (const { item, step } of tasks) {
    const key = groupOf(item, step);
    groups.set(key, (groups.get(key) ?? 0) + 1);
  }
  return groups;
};

export const groupOf = (item: WorkItem, step: DecidedStep): string => `${step.treatment} ${item.alike}`;
