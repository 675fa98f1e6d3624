import type { ComponentType } from 'react';
import type { ClipDetail, ClipFacts, Measurement, Region } from '@bevrin/contract';
import type { FollowedTile } from '@bevrin/core/inspect';
import type { ChartProps } from './Chart.js';
import type { Place } from './hot-pixels/places.js';

/** One chart of evidence: its words and its points, and whether they lie in time. */
export type EvidenceCurve = Pick<ChartProps, 'title' | 'xTitle' | 'yTitle' | 'curve' | 'also' | 'marks'> & {
  readonly overTime: boolean;
  /** The figure whose limit is drawn across it, where a finding judges that. */
  readonly limitOf?: string;
};

/** What is laid over the picture at one frame. In clip pixels. */
export interface MarksProps {
  readonly measurement: Measurement;
  readonly facts: ClipFacts;
  readonly frame: number;
  readonly tiles: readonly FollowedTile[] | null;
  /** Number of the place that was chosen in the table. */
  readonly chosen: number | null;
  /** Regions of the reading that are there at this frame. */
  readonly regions: readonly Region[];
}

/** What stands between the figures and the charts. */
export interface TablesProps {
  readonly clip: ClipDetail & { measurement: Measurement };
  readonly frame: number;
  readonly chosenPlace: number | null;
  readonly onGo: (frame: number) => void;
  readonly onPlace: (place: Place) => void;
  /** Goes to an edge, and lays a line across it. */
  readonly onEdge: (region: Region) => void;
}

/**
 * What the clip page shows of one defect beyond its figures. All of it may be left out: then its regions are outlined
 * and its series are drawn over time.
 */
export interface DefectEvidence {
  readonly curves?: (measurement: Measurement) => readonly EvidenceCurve[];
  readonly Marks?: ComponentType<MarksProps>;
  readonly Tables?: ComponentType<TablesProps>;
  /** What is worked out of the picture for its marks: tiles that follow the camera, or contours of code values. */
  readonly asks?: 'tiles' | 'contours';
}
