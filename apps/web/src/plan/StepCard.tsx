import { useState, type KeyboardEvent } from 'react';
import { isExpectedAsTried, TREATMENT_NAMES, type DecidedStep, type Step } from '@bevrin/contract';
import { amount } from '../parts/format.js';
import { KeptInput } from '../parts/KeptInput.js';
import { findingName } from '../parts/names.js';
import { placeText } from '../clip/PlanList.js';
import { Reason } from '../parts/Reason.js';
import { Settings } from './Settings.js';
import type { Decide } from './decide.js';

interface Props {
  readonly step: DecidedStep;
  readonly proposed: Step | undefined;
  readonly frozen: boolean;
  readonly first: boolean;
  readonly last: boolean;
  readonly onMove: (by: 1 | -1) => void;
  readonly onDecide: Decide;
}

/** One step: what, where, with which settings, what it should bring, what it risks, and what to do when it fails. */
export const StepCard = ({ step, proposed, frozen, first, last, onMove, onDecide }: Props) => {
  const [dropping, setDropping] = useState(false);
  const { treatment, expect, cost, where } = step;
  const name = TREATMENT_NAMES[treatment];
  const keys = (event: KeyboardEvent): void => {
    if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
    event.preventDefault();
    onMove(event.key === 'ArrowUp' ? -1 : 1);
  };
  return (
    <article
      tabIndex={0}
      aria-label={`Step ${step.order}: ${name}`}
      onKeyDown={keys}
      className="grid grid-cols-[2rem_1fr] py-2 text-sm"
    >
      <span className="text-xl font-bold">{step.order}</span>
      <div>
        <p className="flex flex-wrap items-baseline gap-x-4">
          <span className="text-base font-semibold">{name}</span>
          <span className="text-soft">
            {findingName({ defect: step.defect, reading: expect.reading })}, priority {step.priority}
            {step.byHand && ', added by hand'}
          </span>
          <span className="ml-auto flex gap-1">
            <button
              className="button"
              aria-label={`${name} earlier`}
              disabled={frozen || first}
              onClick={() => onMove(-1)}
            >
              ↑
            </button>
            <button
              className="button"
              aria-label={`${name} later`}
              disabled={frozen || last}
              onClick={() => onMove(1)}
            >
              ↓
            </button>
            <button className="button" disabled={frozen} onClick={() => setDropping(!dropping)}>
              Drop
            </button>
          </span>
        </p>
        {dropping && (
          <Reason
            label={`Why ${name} is not done`}
            action="Drop it"
            onGive={async (reason) => {
              if (await onDecide({ kind: 'drop', treatment, reason })) setDropping(false);
            }}
          />
        )}
        <p className="py-0.5">
          <b className="font-semibold">
            {amount(expect.from, expect.unit)} → {amount(expect.to, expect.unit)}
          </b>{' '}
          expected{isExpectedAsTried(step) && ', as tried'}
          {step.changed && proposed && `; ${amount(proposed.expect.to, expect.unit)} as proposed`}. Render{' '}
          {cost.renderWeight} × playing time, {cost.artistMinutes} min of work
          {cost.cropPct > 0 && `, crop ${cost.cropPct} %`}
          {step.tried?.run != null ? '.' : '; worked out, not tried.'}
        </p>
        <p className="max-w-[48rem]">{step.because}</p>
        <Settings
          step={step}
          proposed={proposed}
          frozen={frozen}
          onSet={(settings) => void onDecide({ kind: 'settings', treatment, settings })}
        />
        <dl className="grid max-w-[48rem] grid-cols-[5rem_1fr] gap-y-0.5">
          {step.tried && <Item name="Tried">{triedText(step.tried)}</Item>}
          <Item name="Where">{placeText(where)}</Item>
          <Item name="Risks">{step.risks.join(' ')}</Item>
          <Item name="Check">{step.check.join(' ')}</Item>
          <Item name="If it fails">{step.fallback.join(' ')}</Item>
        </dl>
        <KeptInput
          key={step.note}
          aria-label={`Note on ${name}`}
          placeholder="note for the repair room"
          className="mt-1 w-full max-w-[48rem] field"
          disabled={frozen}
          saved={step.note}
          onKeep={(text) => void onDecide({ kind: 'note', treatment, text })}
        />
      </div>
    </article>
  );
};

/** What a trial found, and on which frames. */
const triedText = ({ because, range, by }: NonNullable<DecidedStep['tried']>): string =>
  `${because} On frames ${range.startFrame} to ${range.endFrame}${by === 'machine' ? ', without being asked' : ''}.`;

const Item = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <>
    <dt className="text-soft">{name}</dt>
    <dd>{children}</dd>
  </>
);
