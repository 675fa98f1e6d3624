import { expect } from 'chai';
import type { Batch, Clip, DeliverySpec } from '@bevrin/contract';
import { measurementWith } from './measurement.js';
import type { TestServer } from './test-server.js';

/** A batch under a spec of the house with limits for noise and flicker: a bad clip, and one that is just too noisy. */
export const openHouseBatch = async (server: TestServer): Promise<{ batch: Batch; night: Clip }> => {
  const [hd] = (await server.get<DeliverySpec[]>('/specs')).filter((s) => s.id === 'broadcast-hd');
  const house: DeliverySpec = {
    ...hd,
    id: 'house',
    name: 'House',
    requires: {},
    limits: hd.limits.filter((l) => ['noise', 'flicker'].includes(l.defect)),
  };
  expect((await server.send('POST', '/specs', { spec: house, replaces: null })).status).to.equal(201);
  const batch = (await server.send('POST', '/batches', { name: 'Reel 12', specId: 'house' })).body as Batch;
  const night = await server.seed(
    batch.id,
    'A001 night.mov',
    measurementWith({
      noise: { lumaPct: 2.1 },
      flicker: { depthPct: 6, frequencyHz: 4, pattern: 'whole-frame' },
    }),
  );
  await server.seed(batch.id, 'A002 grainy.mov', measurementWith({ noise: { lumaPct: 2.05 } }));
  return { batch, night };
};
