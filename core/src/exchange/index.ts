export {
  readFocusCsv,
  guessMapping,
  FOCUS_FIELDS,
  MAX_FOCUS_CSV,
  type FocusField,
  type FocusMapping,
  type FocusCsv,
  type ReadRun,
  type BadRow,
} from './focusCsv.ts';
export { toCsv } from './csv.ts';
export { readPartsCsv, partsToCsv, PART_COLUMNS } from './partsCsv.ts';
export {
  readGuideCsv,
  guideToCsv,
  guessGuideMapping,
  GUIDE_FIELDS,
  MAX_GUIDE_ROWS,
  type AngleUnit,
  type GuideCsv,
  type GuideField,
  type GuideMapping,
  type GuideSample,
} from './guideCsv.ts';
export {
  readFitsHeader,
  placeOfCards,
  framingFromHeader,
  MAX_HEADER_BYTES,
  type FitsRead,
  type FitsValue,
  type HeaderFraming,
  sameScale,
} from './fitsHeader.ts';
export {
  FRAME_KEYWORDS,
  FrameKind,
  frameKindOf,
  readFrame,
  type FrameField,
  type KeywordMapping,
  type ReadFrame,
} from './frameHeader.ts';
export {
  FRAME_COLUMNS,
  MAX_FRAMES_CSV,
  guessFrameColumns,
  readFramesCsv,
  type CsvFrame,
  type FrameColumn,
  type FrameColumns,
  type FramesCsv,
} from './framesCsv.ts';
export { recogniseText, type TextKind } from './recognise.ts';
export { readPicture, readPictureHeader, type FitsPicture, type PictureRead } from './fitsPicture.ts';
export { writeFits16, onesComplementSum, type WrittenCard } from './fitsWrite.ts';
export { readBackground, type Background, type BackgroundRead } from './fitsPixels.ts';
export { decimalOf, numberIn, type TableAnswers, type TableAsk } from './cells.ts';
export { readHeading } from './headings.ts';
export { readInstant, instantMs, type DayOrder } from './instant.ts';
export { readDrift, readHorizon, type DriftFrame, type ReadList } from './typedLists.ts';
