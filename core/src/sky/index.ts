export { Site, Horizon, HorizonPoint, horizonAt, hiddenShare, knownZone, MOST_HORIZON_POINTS } from './site.ts';
export { zoneOffsetMs, instantOfLocal, localDay, endOfLocalDay, eveningDate, addDays } from './zone.ts';
export { SkyWindow, angleDeg, direction, unit, dot, type Vec, type AltAz } from './ephemeris.ts';
export {
  night,
  nightFrame,
  darkSpell,
  sunCrossings,
  skyNight,
  SUN_ALTITUDE,
  Darkness,
  NightInput,
  moonPhaseAngleDeg,
  type NightFrame,
  type NightOutput,
  comingEvening,
} from './night.ts';
export { target, skyTarget, airmass, TargetInput, type TargetOutput } from './target.ts';
export {
  scanNight,
  findObjects,
  entryAt,
  OBJECT_TYPES,
  MOON_DISTANCE_DEG,
  moonDistanceDeg,
  type Catalogue,
  type CatalogueEntry,
  type NightScan,
  type ScanRequest,
} from './catalogue.ts';
export { moonDisk, type MoonDisk } from './moonDisk.ts';
export { brightMoon, type BrightMoon } from './brightMoon.ts';
export { darkLeft, type DarkLeft } from './darkLeft.ts';
export {
  ANYTHING,
  KINDS,
  pickTonight,
  sizeOf,
  surfaceMagOf,
  type Kind,
  type SizeCriteria,
  type Suggestion,
  type TonightCriteria,
} from './tonightPick.ts';
export { pole, skyPole, PoleInput, type PoleOutput } from './pole.ts';
export {
  BAND_DEG,
  STAR_EDITION,
  bandSource,
  columnsOf,
  depthFor,
  emptyStars,
  joinStars,
  packTile,
  readTile,
  starsOf,
  tileAt,
  tileBytes,
  tilesAround,
  turn,
  type Star,
  type StarIndex,
  type Tile,
} from './starTiles.ts';
export { panelAt, panelsOf, positionAngle, skyEllipse, skyPlace, type Mosaic, type Panel } from './framing.ts';
export { isCrowded } from './crowded.ts';
export { separationDeg, type SkyPoint } from './separation.ts';
export { brightness, skyBrightness, BrightnessInput } from './brightness.ts';
export { skyOver, type SkyOver } from './skyOver.ts';
export { skyYear, year, YearInput, type YearNight, type YearOutput } from './year.ts';
export { altitudesAt } from './altitudes.ts';
export { project, type Projected } from './project.ts';
export { worthAt } from './worth.ts';
export type { StarCap, Stars, StarSource } from '../calculation/index.ts';
