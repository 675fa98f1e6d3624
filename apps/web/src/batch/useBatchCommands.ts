import type { RefObject } from 'react';
import { useNavigate } from 'react-router';
import type { BatchDetail } from '@bevrin/contract';
import { useCommands } from '../parts/commands.js';
import { chosenClips, type Filters } from './filters.js';
import type { Selection } from './useSelection.js';

interface Batch {
  readonly detail: BatchDetail;
  readonly filters: Filters;
  readonly filter: (name: keyof Filters, value: string) => void;
  readonly clear: () => void;
  readonly selection: Selection;
  /** Clips side by side on the contact sheet. */
  readonly columns: number;
  /** Asks for files to add. */
  readonly open: () => void;
  readonly searchField: RefObject<HTMLInputElement | null>;
}

/** Everything that can be done with a batch by keys and by words. */
export const useBatchCommands = ({
  detail: { batch, clips },
  filters,
  filter,
  clear,
  selection,
  columns,
  open,
  searchField,
}: Batch): void => {
  const navigate = useNavigate();
  const contact = filters.layout === 'contact';
  const down = contact ? columns : 1;
  const { move, cursor } = selection;
  const openClip = (): void => void (cursor && navigate(`/batches/${batch.id}/clips/${cursor}`));
  useCommands('Clips', [
    { name: 'Next clip', keys: 'down', run: () => move(down, false) },
    { name: 'Previous clip', keys: 'up', run: () => move(-down, false) },
    ...(contact
      ? [
          { name: 'Clip to the right', keys: 'right', run: () => move(1, false) },
          { name: 'Clip to the left', keys: 'left', run: () => move(-1, false) },
        ]
      : []),
    { name: 'Choose the next clip too', keys: 'shift+down', run: () => move(down, true) },
    { name: 'Choose the previous clip too', keys: 'shift+up', run: () => move(-down, true) },
    { name: 'Choose all', keys: 'mod+a', run: selection.all },
    { name: 'Choose none', keys: 'esc', run: selection.none },
    { name: 'Open the clip', keys: 'enter', run: openClip },
    { name: 'Go to the worst clip', keys: 'w', run: () => clips.length > 0 && openWorst() },
  ]);
  const openWorst = (): void => {
    const [worst] = chosenClips(clips, { ...filters, sort: 'worst' });
    if (worst) void navigate(`/batches/${batch.id}/clips/${worst.id}`);
  };
  useCommands('This batch', [
    { name: 'Search the clips', keys: 'slash', run: () => searchField.current?.focus() },
    {
      name: 'Order: worst first, or as received',
      keys: 's',
      run: () => filter('sort', filters.sort === 'worst' ? 'received' : 'worst'),
    },
    {
      name: 'Table or contact sheet',
      keys: 'v',
      run: () => filter('layout', contact ? 'table' : 'contact'),
    },
    {
      name: 'Strips, roll by roll, or table',
      keys: 'r',
      run: () => filter('layout', filters.layout === 'rolls' ? 'table' : 'rolls'),
    },
    { name: 'Show only what fails', keys: 'f', run: () => filter('verdict', filters.verdict ? '' : 'fail') },
    { name: 'Show all clips', keys: 'shift+f', run: clear },
    { name: 'Add files', keys: 'a', run: open },
    { name: 'Work list', keys: 'shift+w', run: () => void navigate(`/batches/${batch.id}/work`) },
    { name: 'Report', keys: 'shift+r', run: () => void navigate(`/batches/${batch.id}/report`) },
    {
      name: 'Limits of the delivery spec',
      keys: 'shift+l',
      run: () => void navigate(`/specs/${batch.specId}?batch=${batch.id}`),
    },
  ]);
};
