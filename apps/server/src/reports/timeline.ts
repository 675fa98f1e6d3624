import { pathToFileURL } from 'node:url';
import { rationalToNumber, type Report, type ReportClip } from '@bevrin/contract';
import { marksOf } from './marks.js';

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
export const timelineOf = (report: Report, pathOf: (clip: ReportClip) => string | null): object => ({
  OTIO_SCHEMA: 'Timeline.1',
  name: report.batch,
  global_start_time: null,
  metadata: { bevrin: { schema: report.schema, production: report.production } },
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
        children: report.clips.map((clip) => otioClip(clip, pathOf(clip))),
      },
    ],
  },
});

const otioClip = (report: ReportClip, path: string | null): object => {
  const { clip, spec, verdict, plan } = report;
  const rate = rationalToNumber(clip.frameRate);
  const all = range(0, clip.frames, rate);
  return {
    OTIO_SCHEMA: 'Clip.1',
    name: clip.file,
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
    markers: marksOf(report).map((mark) => ({
      OTIO_SCHEMA: 'Marker.2',
      name: mark.name,
      color: COLOURS[mark.verdict],
      marked_range: range(mark.startFrame, mark.endFrame - mark.startFrame + 1, rate),
      metadata: { bevrin: { text: mark.text } },
    })),
    metadata: { bevrin: { spec, verdict, steps: plan.steps } },
  };
};
