import type { BesideFinding } from '@bevrin/contract';
import { VerdictMark } from './VerdictMark.js';

/** How a clip differs from the others of its roll, and what would bring it to them. */
export const BesideLines = ({
  beside,
  withMatch = false,
  action,
}: {
  beside: readonly BesideFinding[];
  /** Whether it is said what would match it. */
  withMatch?: boolean;
  /** What can be done about one of them. */
  action?: (finding: BesideFinding) => React.ReactNode;
}) =>
  beside.length > 0 && (
    <section aria-label="Beside the other clips" className="border-b border-rule py-1 text-sm">
      <h2 className="heading">Beside the other clips of {beside[0].roll}</h2>
      <ul>
        {beside.map((finding) => (
          <li key={finding.name} className="flex items-baseline gap-2 py-0.5">
            <span className="w-20 shrink-0">
              <VerdictMark verdict={finding.verdict} />
            </span>
            <span>
              {finding.because}
              {withMatch && <span className="block text-soft">{finding.match.words}</span>}
              {action?.(finding)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
