import { Dialog } from 'radix-ui';
import { keysText, useCommandGroups } from './commands.js';

/** Every key that works on the page that is open. */
export const KeySheet = ({ open, onOpen }: { open: boolean; onOpen: (open: boolean) => void }) => {
  const groups = useCommandGroups();
  return (
    <Dialog.Root open={open} onOpenChange={onOpen}>
      <Dialog.Trigger className="text-sm underline decoration-rule underline-offset-4">Keys</Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 max-h-[90vh] w-[52rem] max-w-[95vw] -translate-x-1/2 -translate-y-1/2 overflow-auto border border-ink bg-slip p-6"
        >
          <Dialog.Title className="mb-3 border-b border-ink pb-2 font-semibold">
            Keys of this page
          </Dialog.Title>
          <div className="columns-2 gap-8 text-sm">
            {groups.map(({ group, commands }, i) => {
              const keyed = commands.filter((c) => c.keys);
              return keyed.length === 0 ? null : (
                <section key={`${group} ${i}`} className="mb-4 break-inside-avoid">
                  <h3 className="heading border-b border-rule pb-0.5">{group}</h3>
                  <dl className="grid grid-cols-[8.5rem_1fr] gap-y-0.5 pt-1">
                    {keyed.map((c) => (
                      <div key={c.name} className="contents">
                        <dt className="font-semibold">{keysText(c)}</dt>
                        <dd>{c.name}</dd>
                      </div>
                    ))}
                  </dl>
                </section>
              );
            })}
          </div>
          <Dialog.Close className="button mt-2">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
