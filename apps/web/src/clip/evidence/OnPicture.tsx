import type { Defect } from '@bevrin/contract';
import type { MarksProps } from './evidence.js';
import { Regions } from './Regions.js';
import { evidenceOf } from './registry.js';

/** What was measured about one defect, laid over the picture at this frame. In clip pixels. */
export const OnPicture = ({
  defect,
  ...props
}: Omit<MarksProps, 'regions'> & { readonly defect: Defect }) => {
  const reading = props.measurement.readings[defect];
  if (reading.state === 'notMeasurable') return null;
  const { frame } = props;
  const regions = reading.regions.filter((r) => r.startFrame <= frame && frame <= r.endFrame);
  const { Marks } = evidenceOf(defect);
  return Marks ? <Marks {...props} regions={regions} /> : <Regions regions={regions} />;
};
