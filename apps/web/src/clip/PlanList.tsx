import {
  isExpectedAsTried,
  PLAN_SIZE_NAMES,
  PLAN_SIZES,
  TREATMENT_NAMES,
  type DecidedStep,
  type Defect,
  type Plan,
  type Step,
  type TreatmentName,
} from '@bevrin/contract';
import { findingName } from '../parts/names.js';
import { amount, settingTexts } from '../parts/format.js';

interface Props {
  readonly plan: Omit<Plan, 'steps'> & {
    readonly steps: readonly (Step & Pick<DecidedStep, 'tried'>)[];
  };
  readonly onSelect: (defect: Defect) => void;
  /** Opens the trials of a step. */
  readonly onTry: (treatment: TreatmentName) => void;
}

/** The repairs in the order in which they must be done, each with where it starts and what to watch. */
export const PlanList = ({ plan, onSelect, onTry }: Props) => {
  if (plan.steps.length + plan.notRepairable.length === 0)
    return <p className="py-2 text-soft">Nothing to repair for this delivery.</p>;
  return (
    <>
      <Sizes plan={plan} />
      <Steps plan={plan} onSelect={onSelect} onTry={onTry} />
      {plan.notRepairable.length > 0 && (
        <section className="border-b border-ink py-2 text-sm">
          <h3 className="heading">Cannot be repaired</h3>
          {plan.notRepairable.map((n) => (
            <p key={`${n.defect} ${n.reading}`} className="pt-1">
              <b className="font-semibold">
                {findingName(n)}: {n.instead}.
              </b>{' '}
              {n.because}
            </p>
          ))}
        </section>
      )}
      {plan.together.length > 0 && (
        <section className="py-2 text-sm">
          <h3 className="heading">Together</h3>
          {plan.together.map((line) => (
            <p key={line} className="pt-1">
              {line}
            </p>
          ))}
        </section>
      )}
    </>
  );
};

/** What each size of plan costs and brings, side by side. */
export const Sizes = ({ plan: { sizes } }: { plan: Pick<Plan, 'sizes'> }) => (
  <table className="w-full text-sm">
    <caption className="sr-only">Sizes of the plan</caption>
    <thead className="heading">
      <tr className="border-b border-ink">
        <th className="py-1 text-left">Plan</th>
        <th className="text-right">Steps</th>
        <th className="text-right">Render</th>
        <th className="text-right">Work</th>
        <th className="text-right">Crop</th>
        <th className="pl-3 text-left">Then</th>
      </tr>
    </thead>
    <tbody>
      {PLAN_SIZES.map((size) => {
        const { treatments, renderWeight, artistMinutes, cropPct, results } = sizes[size];
        const short = results.filter((r) => r.verdict !== 'pass');
        return (
          <tr
            key={size}
            className={`border-b border-hair ${size === 'recommended' ? 'bg-slip font-semibold' : ''}`}
            title={results
              .map((r) => `${findingName(r)} ${amount(r.from, r.unit)} → ${amount(r.to, r.unit)}`)
              .join(', ')}
          >
            <td className="py-1">{PLAN_SIZE_NAMES[size]}</td>
            <td className="text-right">{treatments.length}</td>
            <td className="text-right">{renderWeight} ×</td>
            <td className="text-right">{artistMinutes} min</td>
            <td className="text-right">{cropPct > 0 ? `${cropPct} %` : 'none'}</td>
            <td className="pl-3">
              {short.length === 0 ? 'all pass' : `${short.map(findingName).join(', ')} beyond pass`}
            </td>
          </tr>
        );
      })}
    </tbody>
  </table>
);

const Steps = ({ plan, onSelect, onTry }: Props) => (
  <ol className="text-sm">
    {plan.steps.map((step) => (
      <li key={step.order} className="grid grid-cols-[1.6rem_1fr] border-b border-hair py-2">
        <span className="text-base font-semibold">{step.order}</span>
        <div>
          <p className="flex items-baseline gap-3">
            <span className="text-base font-semibold">{TREATMENT_NAMES[step.treatment]}</span>
            <span className="ml-auto whitespace-nowrap text-soft">priority {step.priority}</span>
          </p>
          <p>
            <StepSubject step={step} onSelect={onSelect} /> {amount(step.expect.from, step.expect.unit)} →{' '}
            {amount(step.expect.to, step.expect.unit)} expected{isExpectedAsTried(step) && ', as tried'}
          </p>
          <p className="mt-1">{step.because}</p>
          <Item name="Start with">{settingTexts(step.settings).join(' · ')}</Item>
          <Item name="Where">{placeText(step.where)}</Item>
          <Item name="Risks">{step.risks.join(' ')}</Item>
          <Item name="Check">{step.check.join(' ')}</Item>
          <Item name="If not">{step.fallback.join(' ')}</Item>
          <Item name="Cost">
            render {step.cost.renderWeight} × playing time, about {step.cost.artistMinutes} min of work
            {step.cost.cropPct > 0 && `, crop ${step.cost.cropPct} %`}
            {step.tried?.run == null && '; worked out, not tried'}
          </Item>
          <Item name="Tried">
            {step.tried ? `${step.tried.because} ` : 'Not yet. '}
            <button
              className="underline decoration-rule underline-offset-4"
              onClick={() => onTry(step.treatment)}
            >
              {step.tried ? 'Look at the trial' : 'Try it'}
            </button>
          </Item>
        </div>
      </li>
    ))}
  </ol>
);

export const placeText = ({ startFrame, endFrame, regions }: Plan['steps'][number]['where']): string =>
  `frames ${startFrame} to ${endFrame}${regions.length > 0 ? `, ${regions.length} ${regions.length === 1 ? 'place' : 'places'} in the picture` : ', the whole picture'}`;

const StepSubject = ({
  step: { defect, expect },
  onSelect,
}: {
  step: Plan['steps'][number];
  onSelect: (defect: Defect) => void;
}) => {
  const name = findingName({ defect, reading: expect.reading });
  return defect === 'conform' ? (
    <>{name}</>
  ) : (
    <button className="hover:underline" onClick={() => onSelect(defect)}>
      {name}
    </button>
  );
};

const Item = ({ name, children }: { name: string; children: React.ReactNode }) => (
  <p className="mt-1 grid grid-cols-[4.6rem_1fr]">
    <span className="text-soft">{name}</span>
    <span>{children}</span>
  </p>
);
