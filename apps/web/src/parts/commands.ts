import {
  useEffect,
  useMemo,
  useRef,
  useSyncExternalStore,
  type KeyboardEvent as ReactKeyboardEvent,
} from 'react';
import { useHotkeys } from 'react-hotkeys-hook';

/** Something that can be done here, by a key, from the list of commands, or both. */
export interface Command {
  /** What it does, as a person would look for it. */
  readonly name: string;
  /** As `react-hotkeys-hook` writes it; the first one is shown. */
  readonly keys?: string | readonly string[];
  /** Works while a text is written, too. */
  readonly inTexts?: boolean;
  run(): void;
}

export interface CommandGroup {
  readonly group: string;
  readonly commands: readonly Command[];
}

let groups: readonly CommandGroup[] = [];
const listeners = new Set<() => void>();
const tell = (): void => listeners.forEach((l) => l());
const subscribe = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** All that can be done on the page that is open. */
export const useCommandGroups = (): readonly CommandGroup[] => useSyncExternalStore(subscribe, () => groups);

const keysOf = ({ keys = [] }: Command): readonly string[] => (typeof keys === 'string' ? [keys] : keys);

const left = new WeakSet<KeyboardEvent>();

/** Takes a key from the control that has the focus and leaves it to the commands of the page. */
export const leaveToPage = (event: ReactKeyboardEvent): void => {
  event.preventDefault();
  left.add(event.nativeEvent);
};

/** An open dialog, and whatever else answered first, keeps a key to itself. */
const answered = (e: KeyboardEvent): boolean =>
  (e.defaultPrevented && !left.has(e)) || document.querySelector('[role=dialog]') !== null;

/** Controls that a person does not write in; keys of the page work there. */
const NOT_WRITTEN_IN = ['checkbox', 'radio', 'button', 'range'];

/** Whether keys go into a text. */
export const writing = (): boolean => {
  const at = document.activeElement;
  return (
    at instanceof HTMLTextAreaElement ||
    at instanceof HTMLSelectElement ||
    (at instanceof HTMLInputElement && !NOT_WRITTEN_IN.includes(at.type))
  );
};

/** Enter presses what has the focus, and Space ticks it; they do nothing else there. */
const presses = (e: KeyboardEvent): boolean =>
  (e.key === 'Enter' && document.activeElement?.matches('button, a, input, summary') === true) ||
  (e.key === ' ' && document.activeElement?.matches('input, summary') === true);

/** Makes commands known while a part of the page is shown: to the keyboard, to the list of commands and to the sheet of keys. */
export const useCommands = (group: string, commands: readonly Command[]): void => {
  const latest = useRef(commands);
  useEffect(() => void (latest.current = commands));
  const names = commands.map((c) => `${c.name}\n${keysOf(c).join('\n')}`).join('\n\n');
  useEffect(() => {
    const mine: CommandGroup = {
      group,
      commands: latest.current.map((c, i) => ({ ...c, run: () => latest.current[i]?.run() })),
    };
    groups = [...groups, mine];
    tell();
    return () => {
      groups = groups.filter((g) => g !== mine);
      tell();
    };
  }, [group, names]);
  const keyList = commands.flatMap(keysOf).join(' ');
  const keys = useMemo(() => keyList.split(' '), [keyList]);
  useHotkeys(
    keys,
    (event, { hotkey }) => {
      const command = latest.current.find((c) => keysOf(c).includes(hotkey));
      if (!command || answered(event) || presses(event) || (writing() && !command.inTexts)) return;
      event.preventDefault();
      command.run();
    },
    { enableOnFormTags: true },
  );
};

const SIGNS: Record<string, string> = {
  left: '←',
  right: '→',
  up: '↑',
  down: '↓',
  space: 'Space',
  enter: 'Enter',
  esc: 'Esc',
  home: 'Home',
  end: 'End',
  shift: 'Shift',
  alt: 'Alt',
  mod: 'Ctrl',
  comma: ',',
  period: '.',
  slash: '/',
  minus: '−',
  equal: '+',
  bracketleft: '[',
  bracketright: ']',
  delete: 'Del',
  pagedown: 'Page ↓',
  pageup: 'Page ↑',
};

/** A key as it stands on the keyboard. */
export const keyText = (key: string): string =>
  key === 'shift+slash'
    ? '?'
    : key
        .split('+')
        .map((part) => SIGNS[part] ?? part.toUpperCase())
        .join(' ');

/** The keys of a command, for a person. */
export const keysText = (command: Command): string => keysOf(command).map(keyText).join(' or ');
