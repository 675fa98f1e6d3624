import { TREATMENT_NAMES, type Defect, type Plan } from '@bevrin/contract';
import { findingName } from '../parts/names.js';
import { amount, settingTexts } from '../parts/format.js';

/** The repairs in the order in which they must be done, each with where it starts and what to watch. */
export const PlanList = ({ plan, onSelect }: { plan: Plan; onSelect: (defect: Defect) => void }) => {
  if (plan.steps.length === 0) return <p className="py-2 text-soft">Nothing to repair for this delivery.</p>;
  return (
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
              {amount(step.expect.to, step.expect.unit)} expected
            </p>
            <p className="mt-1">{step.because}</p>
            <Item name="Start with">{settingTexts(step.settings).join(' · ')}</Item>
            <Item name="Risks">{step.risks.join(' ')}</Item>
            <Item name="Check">{step.check.join(' ')}</Item>
            <Item name="Cost">
              render {step.cost.renderWeight} × playing time, about {step.cost.artistMinutes} min of work
              {step.cost.cropPct > 0 && `, crop ${step.cost.cropPct} %`}
            </Item>
          </div>
        </li>
      ))}
    </ol>
  );
};

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
