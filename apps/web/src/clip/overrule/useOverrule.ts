import { useState } from 'react';
import type { ClipDetail, Decision, Overrides } from '@bevrin/contract';
import { api, sayError } from '../../api/client.js';
import { useSignature } from '../../parts/signature.js';

export interface Overruling {
  /** What went wrong with the last decision, or what it lacks. */
  readonly problem: string | null;
  /** Whether it lacks a name. */
  readonly unsigned: boolean;
  readonly busy: boolean;
  decide(decision: Decision): Promise<boolean>;
  /** Changes how the clip is measured; `undefined` takes a part of it back. */
  change(part: { [K in keyof Overrides]?: Overrides[K] | undefined }): Promise<boolean>;
}

/** Decisions about one clip, each under the name of who sits here. */
export const useOverrule = (clip: ClipDetail): Overruling => {
  const [who] = useSignature();
  const [send, { error, isLoading }] = api.useDecideMutation();
  const [unsigned, setUnsigned] = useState(false);
  const decide = async (decision: Decision): Promise<boolean> => {
    setUnsigned(who.trim() === '');
    if (who.trim() === '') return false;
    return !(await send({ clipId: clip.id, who, decision })).error;
  };
  return {
    unsigned,
    problem: unsigned
      ? 'Say who decides: every decision is kept with a name.'
      : error
        ? sayError(error)
        : null,
    busy: isLoading,
    decide,
    change: (part) =>
      decide({
        kind: 'overrule',
        overrides: Object.fromEntries(
          Object.entries({ ...clip.overrides, ...part }).filter(
            ([, v]) => v !== undefined && !(Array.isArray(v) && v.length === 0),
          ),
        ),
      }),
  };
};
