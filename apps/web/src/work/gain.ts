import type { DecidedStep, WorkItem } from '@bevrin/contract';
import { renderMinutes } from '@bevrin/core/scoring';

export interface Task {
  readonly item: WorkItem;
  readonly step: DecidedStep;
  readonly severity: number;
  readonly renderMinutes: number;
  /** What it gains for its effort. */
  readonly gain: number;
}

/** Every step of every plan, the most gain for the least effort first. */
export const tasksOf = (items: readonly WorkItem[]): Task[] =>
  items
    .flatMap((item) =>
      item.plan.steps.map((step) => ({
        item,
        step,
        severity: item.severity[step.treatment] ?? 0,
        renderMinutes: renderMinutes(step.cost, item.durationSec),
        gain: item.gain[step.treatment] ?? 0,
      })),
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
