import { pathToFileURL } from 'node:url';
import { rationalToNumber, type ClipFacts, type Report, type ReportClip } from '@bevrin/contract';
import { marksOf, type Mark } from './marks.js';

/** The colours that OpenTimelineIO names, by how bad a mark is. */
const COLOURS = { fail: 'RED', marginal: 'YELLOW', incomplete: 'WHITE', note: 'CYAN' } as const;

const time = (value: number, rate: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate, value });
const range = (start: number, frames: number, rate: number) => ({
  OTIO_SCHEMA: 'TimeRange.1',
  start_time: time(start, rate),
  duration: time(frames, rate),
});

/**
 * The clips one after another on one track, each with a marker for every finding (OpenTimelineIO, Timeline.1).
 * @param pathOf where the file of a clip lies, if anywhere
 */
export const timelineOf = (report: Report, pathOf: (clip: ReportClip) => string | null): object =>
  timelineWith(
    report.batch,
    { schema: report.schema, production: report.production },
    report.clips.map((of) => ({
      ...of.clip,
      path: pathOf(of),
      marks: marksOf(of),
      metadata: { spec: of.spec, verdict: of.verdict, steps: of.plan.steps },
    })),
  );

/** A file on a timeline, with what must be seen of it. */
export interface MarkedClip {
  readonly file: string;
  readonly frames: number;
  readonly frameRate: ClipFacts['frameRate'];
  /** Where the file lies, if anywhere. */
  readonly path: string | null;
  readonly marks: readonly Mark[];
  readonly metadata: object;
}

/** Files one after another on one track, each with its markers (OpenTimelineIO, Timeline.1). */
export const timelineWith = (name: string, metadata: object, clips: readonly MarkedClip[]): object => ({
  OTIO_SCHEMA: 'Timeline.1',
  name,
  global_start_time: null,
  metadata: { bevrin: metadata },
  tracks: {
    OTIO_SCHEMA: 'Stack.1',
    name: 'tracks',
    source_range: null,
    effects: [],
    markers: [],
    metadata: {},
    children: [
      {
        OTIO_SCHEMA: 'Track.1',
        name: 'V1',
        kind: 'Video',
        source_range: null,
        effects: [],
        markers: [],
        metadata: {},
        children: clips.map(otioClip),
      },
    ],
  },
});

const otioClip = ({ file, frames, frameRate, path, marks, metadata }: MarkedClip): object => {
  const rate = rationalToNumber(frameRate);
  const all = range(0, frames, rate);
  return {
    OTIO_SCHEMA: 'Clip.1',
    name: file,
    source_range: all,
    effects: [],
    enabled: true,
    media_reference:
      path === null
        ? { OTIO_SCHEMA: 'MissingReference.1', name: '', available_range: all, metadata: {} }
        : {
            OTIO_SCHEMA: 'ExternalReference.1',
            target_url: pathToFileURL(path).href,
            available_range: all,
            metadata: {},
          },
    markers: marks.map((mark) => ({
      OTIO_SCHEMA: 'Marker.2',
      name: mark.name,
      color: COLOURS[mark.verdict],
      marked_range: range(mark.startFrame, mark.endFrame - mark.startFrame + 1, rate),
      metadata: { bevrin: { text: mark.text } },
    })),
    metadata: { bevrin: metadata },
  };
};
