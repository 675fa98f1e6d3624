import { expect } from 'chai';
import { findingsOf } from '@bevrin/core';
import { measureClip } from '@bevrin/media';
import { renderStudy, type StudyClip } from '@bevrin/rig';
import { shippedSpecs } from '@bevrin/specs';
import { shareOf } from '../support/share.js';
import { judging } from './seeds.js';

const clip = (more: Partial<StudyClip>): StudyClip => ({
  study: 'foliage',
  width: 480,
  height: 270,
  frames: 16,
  seed: judging(71),
  camera: { panPx: 90, handPx: 1 },
  shutter: 0.2,
  noisePct: [0.5, 0.5, 0.5],
  codec: 'h264',
  ...more,
});

describe('the scan of a clip', function () {
  this.timeout(240_000);

  for (const fields of shareOf(['top', 'bottom'] as const, 1))
    it(`is told from the picture where a file that says progressive holds fields, the ${fields} one first`, async () => {
      const measurement = await measureClip((await renderStudy(clip({ fields }))).path);
      expect(measurement.clip).to.include({
        scan: 'progressive',
        scanSeen: 'interlaced',
        fieldOrderSeen: fields,
      });
      const spec = (await shippedSpecs()).get('broadcast-hd')!;
      const finding = findingsOf(measurement, spec).find((f) => f.reading === 'scanTag');
      expect(finding?.verdict).to.equal('fail');
      expect(finding?.because).to.contain('rows are combed').and.to.contain(`${fields} field first`);
    });

  it('is whole frames where rows belong together, by hand under read-out as well', async () => {
    for (const more of shareOf([{ readout: 0.8, camera: { handPx: 5 } }, {}], 1)) {
      const measurement = await measureClip((await renderStudy(clip(more))).path);
      expect(measurement.clip).to.include({ scanSeen: 'progressive', fieldOrderSeen: null });
    }
  });
});
