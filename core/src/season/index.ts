export { allocate, seasonAllocate, type Found, type SearchProgress } from './allocate.ts';
export { fieldOf, NOBODY, objectiveOf, Taken, type Allocation, type Field, type Pair } from './field.ts';
export { forecast, ForecastInput, ForecastOutput, seasonForecast } from './forecast.ts';
export { greedyAllocation } from './greedy.ts';
export {
  seasonField,
  type SeasonField,
  type SeasonProject,
  type SeasonRig,
  type SeasonSlot,
  type SeasonSpan,
} from './nights.ts';
export { AllocateInput, AllocateOutput, Contender, Given, MOST, Slot } from './schemas.ts';
export { whyNoMore } from './why.ts';
export {
  Board,
  BoardProject,
  BoardSettings,
  BoardSlot,
  PromisedHours,
  workOutBoard,
  type BoardProgress,
  type BoardTask,
} from './board.ts';
export { atOnce, type AtOnce } from './atOnce.ts';
export { fairMaxima } from './shares.ts';
export { shareOf, weightsOf, type Weighed } from './priority.ts';
export { finishedBoth, whatHelps, type Help, type HelpsInput, type Outlook, type RigYear } from './helps.ts';
export { inHundred } from './finishing.ts';
export { finishing, OPEN_SHARE, type Finishing, type FinishingInput } from './finishing.ts';
