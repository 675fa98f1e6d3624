import { Command as List } from 'cmdk';
import { useCommandGroups, keysText, type Command } from './commands.js';

interface Props {
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Everything that can be done here, to be searched by its words. */
export const CommandList = ({ open, onClose }: Props) => {
  const groups = useCommandGroups();
  const choose = (command: Command): void => {
    onClose();
    // The list gives the focus back first.
    setTimeout(() => command.run());
  };
  return (
    <List.Dialog
      open={open}
      onOpenChange={(o) => !o && onClose()}
      label="Commands"
      overlayClassName="fixed inset-0 z-40 bg-black/40"
      contentClassName="fixed top-24 left-1/2 z-50 w-[34rem] -translate-x-1/2 border border-ink bg-slip"
    >
      <List.Input
        placeholder="What do you want to do?"
        className="w-full border-b border-ink bg-slip px-4 py-2 outline-none"
      />
      <List.List className="max-h-96 overflow-auto p-2 text-sm">
        <List.Empty className="p-2 text-soft">Nothing here is called that.</List.Empty>
        {groups.map(({ group, commands }, i) => (
          <List.Group
            key={`${group} ${i}`}
            heading={group}
            className="[&_[cmdk-group-heading]]:heading [&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-2"
          >
            {commands.map((command) => (
              <List.Item
                key={command.name}
                value={`${group} ${command.name}`}
                onSelect={() => choose(command)}
                className="flex cursor-pointer justify-between px-2 py-1 data-[selected=true]:bg-ink data-[selected=true]:text-white"
              >
                {command.name} <span>{keysText(command)}</span>
              </List.Item>
            ))}
          </List.Group>
        ))}
      </List.List>
    </List.Dialog>
  );
};
