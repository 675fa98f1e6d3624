import { useState } from 'react';
import { isOfReading, type DecidedPlan, type Finding, type NotRepairable } from '@bevrin/contract';
import { amount } from '../parts/format.js';
import { findingName } from '../parts/names.js';
import { VerdictMark } from '../parts/VerdictMark.js';
import { Reason } from '../parts/Reason.js';
import type { Decide } from './decide.js';

interface Props {
  readonly findings: readonly Finding[];
  readonly hopeless: readonly NotRepairable[];
  readonly decided: DecidedPlan;
  readonly frozen: boolean;
  readonly onDecide: Decide;
}

/** Findings that do not pass: each can be waived, with a reason that stays. */
export const Waivers = ({ findings, hopeless, decided, frozen, onDecide }: Props) => {
  const [asking, setAsking] = useState<string | null>(null);
  const open = findings.filter((f) => f.verdict !== 'pass');
  return (
    <section aria-label="Findings" className="pt-4 text-sm">
      <h2 className="heading border-b border-ink pb-1">Findings</h2>
      {open.length === 0 && <p className="py-1 text-soft">Everything is within its limits.</p>}
      {open.map((f) => {
        const key = `${f.defect} ${f.reading}`;
        const waived = decided.waived.find(isOfReading(f));
        const disputed = decided.disputed.find(isOfReading(f));
        const lost = hopeless.find(isOfReading(f));
        return (
          <div key={key} className="border-b border-hair py-1">
            <p className="flex items-baseline gap-2">
              <span className={waived || disputed ? 'line-through' : 'font-semibold'}>{findingName(f)}</span>
              <span>{amount(f.value, f.unit)}</span>
              <span className="ml-auto">
                <VerdictMark verdict={f.verdict} />
              </span>
              {!waived && !disputed && (
                <button
                  className="button"
                  aria-label={`Waive ${findingName(f)}`}
                  disabled={frozen}
                  onClick={() => setAsking(asking === key ? null : key)}
                >
                  Waive
                </button>
              )}
            </p>
            {waived && <p>Waived: {waived.reason}</p>}
            {disputed && <p>No defect: {disputed.reason}</p>}
            {lost && (
              <p>
                <b className="font-semibold">Cannot be repaired, {lost.instead}.</b> {lost.because}
              </p>
            )}
            {asking === key && (
              <Reason
                label={`Why ${findingName(f)} is waived`}
                action="Waive it"
                onGive={async (reason) => {
                  const { defect, reading } = f;
                  if (await onDecide({ kind: 'waive', defect, reading, reason })) setAsking(null);
                }}
              />
            )}
          </div>
        );
      })}
    </section>
  );
};
