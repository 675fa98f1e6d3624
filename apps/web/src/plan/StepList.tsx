import { useState } from 'react';
import { TREATMENT_NAMES, type DecidedPlan, type Plan, type TreatmentName } from '@bevrin/contract';
import type { Decide } from './decide.js';
import { StepCard } from './StepCard.js';

interface Props {
  readonly decided: DecidedPlan;
  readonly proposed: Plan;
  readonly frozen: boolean;
  readonly onDecide: Decide;
}

/** The steps in the order of work: moved by dragging or by keys, and told when a rule of the order is broken. */
export const StepList = ({ decided, proposed, frozen, onDecide }: Props) => {
  const [dragged, setDragged] = useState<TreatmentName | null>(null);
  const order = decided.steps.map((s) => s.treatment);
  const moveTo = (treatment: TreatmentName, at: number): void => {
    if (frozen || at < 0 || at >= order.length || order.indexOf(treatment) === at) return;
    const next = order.filter((t) => t !== treatment);
    next.splice(at, 0, treatment);
    void onDecide({ kind: 'order', treatments: next });
  };
  return (
    <section aria-label="Steps">
      <p className="flex items-baseline gap-6 border-b border-ink pb-1 text-sm">
        <span className="heading">Order of work</span>
        <span className="text-soft">
          What must precede what. Priority is another thing: what to do first when time is short.
        </span>
      </p>
      {decided.steps.length === 0 && (
        <p className="py-3 text-soft">
          {decided.dropped.length + decided.waived.length > 0
            ? 'Nothing is left to do: every step was dropped or its finding waived.'
            : 'Nothing to repair for this delivery.'}
        </p>
      )}
      <ol>
        {decided.steps.map((step, at) => (
          <li
            key={step.treatment}
            draggable={!frozen}
            onDragStart={() => setDragged(step.treatment)}
            onDragEnd={() => setDragged(null)}
            onDragOver={(e) => dragged && e.preventDefault()}
            onDrop={() => dragged && moveTo(dragged, at)}
            className={`border-b border-hair ${dragged === step.treatment ? 'opacity-50' : ''}`}
          >
            <StepCard
              step={step}
              proposed={proposed.steps.find((p) => p.treatment === step.treatment)}
              frozen={frozen}
              first={at === 0}
              last={at === order.length - 1}
              onMove={(by) => moveTo(step.treatment, at + by)}
              onDecide={onDecide}
            />
          </li>
        ))}
      </ol>
      {decided.brokenRules.map((rule) => (
        <p
          key={`${rule.first} ${rule.then}`}
          role="status"
          className="mt-2 border-2 border-ink bg-slip p-2 text-sm"
        >
          <b className="font-semibold">
            {TREATMENT_NAMES[rule.then]} stands before {TREATMENT_NAMES[rule.first]}.
          </b>{' '}
          {rule.because}
        </p>
      ))}
      {proposed.together.map((line) => (
        <p key={line} className="pt-2 text-sm text-soft">
          {line}
        </p>
      ))}
      {decided.dropped.map(({ treatment, reason }) => (
        <p key={treatment} className="flex items-baseline gap-3 border-b border-hair py-1.5 text-sm">
          <span className="line-through">{TREATMENT_NAMES[treatment]}</span>
          <span className="text-soft">{reason}</span>
          {!frozen && (
            <button className="button ml-auto" onClick={() => void onDecide({ kind: 'keep', treatment })}>
              Take up again
            </button>
          )}
        </p>
      ))}
    </section>
  );
};
