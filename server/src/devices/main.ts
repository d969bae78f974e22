import { pacer } from '../areas/live/pacer.ts';
import { simulatedTruthOf, standIns } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { resolve } from 'node:path';
import { starFiles } from '../areas/calculations/starFiles.ts';
import { DeviceStation, deviceService } from './service.ts';
import { standInFrames } from './standInFrames.ts';

/** Simulated equipment on this machine, driven over the protocol: npm run devices [-- --port 7640 --speed 1 --seed 1 --alone 30] */
const given = (name: string, otherwise: number): number => {
  const at = process.argv.indexOf(`--${name}`);
  if (at < 0) return otherwise;
  const value = Number(process.argv[at + 1]);
  if (Number.isFinite(value) && value > 0) return value;
  process.stderr.write(`--${name} wants a number above zero\n`);
  process.exit(1);
};
const [port, speed, seed, deadManS] = [given('port', 7640), given('speed', 1), given('seed', 1), given('alone', 30)];
const setup = viewOf(RIGS[0]!.build);
const HOUR_MS = 3_600_000;
const dataFolder = resolve(import.meta.dirname, '../../../data');
const startMs = Date.now();
const world = simulatedTruthOf(setup, seed, startMs, startMs + 12 * HOUR_MS);
const { pace, begin } = pacer({ speed: () => speed, everyMs: 50, meanwhile: async () => false });
begin();
const station = new DeviceStation(
  standIns(world, setup.overheads, pace),
  {
    name: 'stand-ins',
    filters: world.filters,
    deadManS,
    simulated: true,
    speed,
  },
  { fileOf: standInFrames(starFiles(dataFolder), scaleArcsecPerPx(setup.camera.pixelUm, setup.focalLengthMm)) },
);
void station.live();
const server = deviceService(station).listen(port, '127.0.0.1', () => {
  process.stdout.write(
    `stand-ins on http://127.0.0.1:${port}, described at /openapi.json; left alone for ${deadManS} s they go safe\n`,
  );
});
const stop = () => {
  station.close();
  server.close(() => process.exit(0));
  server.closeAllConnections();
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
