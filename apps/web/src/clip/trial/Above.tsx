import { useSize } from '../../parts/useSize.js';
import { Pane } from '../picture/Pane.js';
import { useStage, type Stage } from '../picture/stage.js';
import { usePointer } from '../picture/usePointer.js';
import type { ShownFrame } from '../picture/useShown.js';

const nothing = (): void => undefined;

interface Props {
  readonly name: string;
  /** What it is: as it came, or another setting. */
  readonly label: string;
  readonly shown: ShownFrame;
  readonly stage: Stage;
}

/** What a treated frame is set against, above it: at the same scale, at the same place. */
export const Above = ({ name, label, shown, stage }: Props) => {
  const [box, size] = useSize<HTMLDivElement>();
  const { view } = useStage(stage);
  const { handlers } = usePointer(box, stage, 'look', nothing);
  return (
    <div
      ref={box}
      {...handlers}
      className="relative min-h-0 flex-1 cursor-grab touch-none overflow-hidden border-b border-ink bg-well"
    >
      <Pane
        name={`${name}, ${label}`}
        shown={shown}
        split={null}
        picture={stage.picture}
        view={view}
        size={size}
        hidden={false}
      />
      <p className="absolute top-0 left-0 bg-sheet/90 px-2 py-0.5 text-xs">{label}</p>
    </div>
  );
};
