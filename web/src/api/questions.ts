import { api } from '@keen/contract';
import { call, callAll } from './client.ts';
import type { Question } from './serverState.ts';

/** A system of a rig, as questions name it. */
type OfSystem = readonly [rigId: string, system: string];
const question = <T>(key: Question<T>['key'], ask: Question<T>['ask']): Question<T> => ({ key, ask });

/** Every question that is asked on more than one screen, or hangs on rig, system or night, with its key. */
export const questions = {
  parts: () => question(['parts'], () => callAll(api.parts)),
  members: () => question(['members'], () => call(api.members)),
  invitations: () => question(['invitations'], () => call(api.invitations)),
  ownSessions: () => question(['own-sessions'], () => call(api.ownSessions)),
  runs: () => question(['runs'], () => call(api.runs)),
  liveRuns: () => question(['live-runs'], () => call(api.liveRuns)),
  bridges: () => question(['bridges'], () => call(api.bridges)),
  liveRun: (id: string) => question(['live-run', id], () => call(api.liveRun, { params: { id } })),
  liveRunFrames: (id: string) => question(['live-run-frames', id], () => call(api.liveRunFrames, { params: { id } })),
  run: (id: string) => question(['run', id], () => call(api.run, { params: { id } })),
  bookings: (from: string, until: string) =>
    question(['bookings', from, until], () => call(api.bookings, { query: { from, until } })),
  stops: () => question(['stops'], () => call(api.stops)),
  sinceLastNight: (rigId: string) =>
    question(['since-last-night', rigId], () => call(api.sinceLastNight, { params: { id: rigId } })),
  upkeep: () => question(['upkeep'], () => call(api.upkeep)),
  handovers: () => question(['handovers'], () => call(api.handovers)),
  counts: () => question(['counts'], () => call(api.counts)),
  absences: () => question(['absences'], () => call(api.absences)),
  sharing: () => question(['sharing'], () => call(api.sharing)),
  seasonRules: () => question(['season-rules'], () => call(api.seasonRules)),
  ledger: (since: string) => question(['ledger', since], () => call(api.ledger, { query: { since } })),
  setupList: (rigId: string, night: string) =>
    question(['setup-list', rigId, night], () => call(api.setupList, { params: { id: rigId }, query: { night } })),
  drills: () => question(['drills'], () => call(api.drills)),
  revisions: (rigId: string, version: number) =>
    question(['revisions', rigId, version], () => call(api.revisions, { params: { id: rigId } })),
  nights: (rigId: string) => question(['nights', rigId], () => callAll(api.nights, { params: { id: rigId } })),
  nightFrames: (nightId: string) =>
    question(['night-frames', nightId], () => callAll(api.nightFrames, { params: { id: nightId } })),
  nightFigures: (...[id, system]: OfSystem) =>
    question(['night-figures', id, system], () => call(api.nightFigures, { params: { id }, query: { system } })),
  judgements: (...[id, system]: OfSystem) =>
    question(['judgements', id, system], () => call(api.judgements, { params: { id }, query: { system } })),
  calibration: (...[id, system]: OfSystem) =>
    question(['calibration', id, system], () => call(api.calibration, { params: { id }, query: { system } })),
  calibrationNeeds: (...[id, system]: OfSystem) =>
    question(['calibration-needs', id, system], () =>
      call(api.calibrationNeeds, { params: { id }, query: { system } }),
    ),
  masters: (...[id, system]: OfSystem) =>
    question(['masters', id, system], () => call(api.masters, { params: { id }, query: { system } })),
  guideLogs: (rigId: string) =>
    question(['guide-logs', rigId], () => callAll(api.guideLogs, { params: { id: rigId } })),
  focusRuns: (trainStateId: string) =>
    question(['focus-runs', trainStateId], () => callAll(api.focusRuns, { query: { trainStateId } })),
  offsetSets: (trainStateId: string) =>
    question(['offset-sets', trainStateId], () => call(api.offsetSets, { query: { trainStateId } })),
  forecast: (siteId: string, night: string) =>
    question(['forecast', siteId, night], () => call(api.forecast, { params: { id: siteId }, query: { night } })),
  clearSpells: (siteId: string) =>
    question(['clear-spells', siteId], () => call(api.clearSpells, { params: { id: siteId } })),
};
