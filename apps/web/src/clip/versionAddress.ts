import type { ClipDetail } from '@bevrin/contract';

/** Where a clip is worked on. */
export const clipAddress = ({
  id,
  batchId,
  versionOf,
}: Pick<ClipDetail, 'id' | 'batchId' | 'versionOf'>): string =>
  `/batches/${batchId}/clips/${versionOf?.clipId ?? id}`;

/** Where one file of a clip is open by itself. */
export const versionAddress = (
  clip: Pick<ClipDetail, 'id' | 'batchId' | 'versionOf'>,
  versionId: string,
): string => `${clipAddress(clip)}/versions/${versionId}`;

/** Where the versions of a clip are. */
export const versionsAddress = (clip: Pick<ClipDetail, 'id' | 'batchId' | 'versionOf'>): string =>
  `${clipAddress(clip)}?sheet=recheck`;
