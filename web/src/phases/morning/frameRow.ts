import type { FrameRecord } from '@keen/contract';
import type { DustSpot, FrameMeasures, ListedStar, SmallPicture, SuggestedRefusal } from '@keen/core/frames';

/** A frame as it is looked through: on record, or only in this browser. */
export interface FrameRow {
  id: string;
  /** Null for a file that is on no record: nothing of it counts. */
  record: FrameRecord | null;
  file: string;
  filter: string;
  exposureS: number;
  startedAt: string | null;
  temperatureC: number | null;
  /** Minutes since the last usable focus run on record; null where none is known within the night. */
  focusAgeMin: number | null;
  place: { raDeg: number; decDeg: number } | null;
  look: FrameMeasures | null;
  accepted: boolean;
  suggestion: SuggestedRefusal | null;
}
/** What only this browser holds of a frame, for as long as the screen is open. */
export interface AtHand {
  stars: ListedStar[];
  pieces: SmallPicture[];
  meanStars: SmallPicture[];
  dust: DustSpot[];
}
