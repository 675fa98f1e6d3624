import { z } from 'zod';
import { Stage } from './stage.js';
import {
  ClipFacts,
  DeliverySpec,
  Judgement,
  Measurement,
  Overrides,
  Standing,
  Summary,
} from '@bevrin/core/document';

/** Where a clip is on its way in. `interrupted` is an upload that stopped half way and can go on. */
export const CLIP_STATES = ['receiving', 'interrupted', 'queued', 'measuring', 'measured', 'failed'] as const;
export const ClipState = z.enum(CLIP_STATES);
export type ClipState = z.infer<typeof ClipState>;

/** What a version of a clip is: what came in, what came back repaired, or what was rendered to try a repair. */
export const VERSION_KINDS = ['original', 'repaired', 'trial'] as const;

/** One file of a clip. */
export const Version = z.strictObject({
  id: z.uuid(),
  /** Counted from 1 within its clip. */
  number: z.int().positive(),
  kind: z.enum(VERSION_KINDS),
  madeFrom: z.uuid().nullable(),
  /** `null` until the file has come whole, or its content has been read. */
  size: z.number().nonnegative().nullable(),
  contentHash: z.string().nullable(),
  createdAt: z.iso.datetime(),
});
export type Version = z.infer<typeof Version>;

/** When and by what a version was measured. */
export const MeasurementInfo = z.strictObject({
  id: z.uuid(),
  versionId: z.uuid(),
  engine: z.string(),
  measuredAt: z.iso.datetime(),
});
export type MeasurementInfo = z.infer<typeof MeasurementInfo>;

export const Clip = z.strictObject({
  id: z.uuid(),
  batchId: z.uuid(),
  name: z.string(),
  state: ClipState,
  /** 0–1 of what the state says is under way. */
  progress: z.number().min(0).max(1),
  /** What happened and what to do next, when the state is `failed` or `interrupted`. */
  error: z.string().nullable(),
  facts: ClipFacts.nullable(),
  note: z.string(),
  /** Spec of its own; `null` where that of the batch holds. */
  specId: z.string().nullable(),
  /** Pictures of it by their content, for `/api/pictures`; `null` until they are there. */
  poster: z.string().nullable(),
  /** The copy that is played. */
  proxy: z.string().nullable(),
  /** SHA-256 of the file that is looked at; `null` until it has been read. */
  content: z.string().nullable(),
  /** `null` until it has been measured. */
  summary: Summary.nullable(),
  standing: Standing.nullable(),
  /** How far it has come; left out where nobody asked. */
  stage: Stage.optional(),
  /** Whether the rig drew it, and its truth is known. */
  drawn: z.boolean(),
});
export type Clip = z.infer<typeof Clip>;

export const ClipDetail = Clip.extend({
  judgement: Judgement.nullable(),
  measurement: Measurement.nullable(),
  /** What a technician decided about how it is measured. */
  overrides: Overrides,
  /** What the machine said when it was left to itself; `null` where nothing was overruled. */
  machine: Measurement.nullable(),
  /** Every file of the clip, and how the one that is looked at was measured. */
  versions: z.array(Version),
  measured: MeasurementInfo.nullable(),
  /** Where it is one version opened by itself: of which clip, and which of it. Nothing is decided on it. */
  versionOf: z.strictObject({ clipId: z.uuid(), clip: z.string(), number: z.int().positive() }).nullable(),
  /** For a clip that the rig drew: what was put in. */
  truth: z.array(
    z.strictObject({ what: z.string(), reading: z.string(), value: z.number(), unit: z.string() }),
  ),
});
export type ClipDetail = z.infer<typeof ClipDetail>;

export const Batch = z.strictObject({
  id: z.uuid(),
  name: z.string(),
  production: z.string(),
  specId: z.string(),
  dueOn: z.iso.date().nullable(),
  clipCount: z.int().nonnegative(),
});
export type Batch = z.infer<typeof Batch>;

export const BatchDetail = z.strictObject({ batch: Batch, spec: DeliverySpec, clips: z.array(Clip) });
export type BatchDetail = z.infer<typeof BatchDetail>;

/** For a batch of drawn clips: what was put in against what was read; `read` is `null` where it was not measured. */
export const TruthRow = z.strictObject({
  clipId: z.uuid(),
  clip: z.string(),
  what: z.string(),
  unit: z.string(),
  putIn: z.number(),
  read: z.number().nullable(),
});
export type TruthRow = z.infer<typeof TruthRow>;

export const CreateBatch = z.strictObject({
  name: z.string().trim().min(1, 'Give the batch a name.').max(200),
  production: z.string().trim().max(200).default(''),
  specId: z.string(),
  dueOn: z.iso.date().nullable().default(null),
});
export type CreateBatch = z.input<typeof CreateBatch>;

export const UpdateBatch = z.strictObject({ specId: z.string() });
/** What may be changed of a clip; `specId` of `null` takes the batch's spec. */
export const UpdateClip = z.strictObject({
  note: z.string().max(10_000).optional(),
  /** The note that the change was made on: it is refused when another has come meanwhile. */
  noteBefore: z.string().optional(),
  specId: z.string().nullable().optional(),
});
export type UpdateClip = z.infer<typeof UpdateClip>;
export const RegisterPath = z.strictObject({ path: z.string().min(1, 'Give the path of a file or folder.') });

export const Registered = z.strictObject({ added: z.array(Clip) });

/** How the server itself is. */
export const HouseStatus = z.strictObject({
  storage: z.strictObject({
    /** Whether nothing is taken in or measured, because the disk is nearly full. */
    paused: z.boolean(),
    /** `null` until the disk has been asked. */
    freeBytes: z.number().nonnegative().nullable(),
    reserveBytes: z.number().nonnegative(),
  }),
});
export type HouseStatus = z.infer<typeof HouseStatus>;

/** An upload that is not complete. Whoever has the file can go on with it. */
export const OpenUpload = z.strictObject({
  uploadId: z.string(),
  name: z.string(),
  /** Bytes of the whole file, and of it what has come. */
  size: z.number().nonnegative(),
  offset: z.number().nonnegative(),
  /** When the sender's file was last changed, ms since 1970; `null` where the sender did not say. */
  lastModified: z.number().nullable(),
});
export type OpenUpload = z.infer<typeof OpenUpload>;

/** A file on the server that belongs to no clip: what an upload left whose clip was removed, or was never made. */
export const UnclaimedUpload = z.strictObject({
  uploadId: z.string(),
  /** `null` where it is not known any more. */
  name: z.string().nullable(),
  bytes: z.number().nonnegative(),
  at: z.iso.datetime(),
});
export type UnclaimedUpload = z.infer<typeof UnclaimedUpload>;

/** What the server tells open pages while work goes on. */
export const LiveEvent = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('status'), status: HouseStatus }),
  z.strictObject({ kind: z.literal('clip'), clip: Clip }),
  z.strictObject({ kind: z.literal('clipRemoved'), batchId: z.uuid(), clipId: z.uuid() }),
  /** A trial of a clip was asked for, goes on, or has come to an end. */
  z.strictObject({ kind: z.literal('trial'), clipId: z.uuid() }),
  /** A repaired file came back, its recheck goes on, or it was signed. */
  z.strictObject({ kind: z.literal('recheck'), clipId: z.uuid() }),
]);
export type LiveEvent = z.infer<typeof LiveEvent>;

export const ApiError = z.strictObject({ error: z.string() });

/** Pictures side by side in the film strip of a clip, as long as it has so many frames. */
export const STRIP_PICTURES = 40;
