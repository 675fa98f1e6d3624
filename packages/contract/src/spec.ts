import { z } from 'zod';
import { Defect } from './defects.js';

/** One row of a delivery spec: which reading is judged, and where it passes and fails. */
export const Limit = z
  .strictObject({
    defect: Defect,
    reading: z.string().min(1),
    unit: z.string(),
    /** At or below this the reading passes. */
    pass: z.number().nonnegative(),
    /** Above this the reading fails; between the two it is marginal. */
    fail: z.number().positive(),
    weight: z.number().positive().max(10),
  })
  .refine((limit) => limit.fail > limit.pass, { message: 'fail must be larger than pass', path: ['fail'] });
export type Limit = z.infer<typeof Limit>;

export const DeliverySpec = z.strictObject({
  schema: z.literal('bevrin.spec/1'),
  id: z.string().regex(/^[a-z0-9-]+$/),
  name: z.string().min(1),
  version: z.int().positive(),
  description: z.string(),
  limits: z.array(Limit).min(1),
});
export type DeliverySpec = z.infer<typeof DeliverySpec>;
