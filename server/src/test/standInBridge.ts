import { simulatedTruthOf, standIns } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import type { AddressInfo } from 'node:net';
import { starFiles } from '../areas/calculations/starFiles.ts';
import { pacer } from '../areas/live/pacer.ts';
import type { Config } from '../config.ts';
import { DeviceStation, deviceService } from '../devices/service.ts';
import { standInFrames } from '../devices/standInFrames.ts';

/** Stand-ins behind the protocol on a port of this machine, known to a server by a name until it is closed. */
export async function standInBridge(config: Config, name: string, startMs: number, speed = 300) {
  const setup = viewOf(RIGS[0]!.build);
  const world = simulatedTruthOf(setup, 3, startMs, startMs + 36_000_000);
  const { pace, begin } = pacer({ speed: () => speed, everyMs: 20, meanwhile: async () => false });
  begin();
  const about = { name, filters: world.filters, deadManS: 30, simulated: true, speed };
  const station = new DeviceStation(standIns(world, setup.overheads, pace), about, {
    fileOf: standInFrames(starFiles(config.dataFolder), world.scaleArcsecPerPx),
  });
  void station.live();
  const service = deviceService(station).listen(0, '127.0.0.1');
  await new Promise((done) => service.once('listening', done));
  const bridges = config.bridges as Record<string, string>;
  bridges[name] = `http://127.0.0.1:${(service.address() as AddressInfo).port}`;
  const close = () => {
    delete bridges[name];
    station.close();
    service.close();
    service.closeAllConnections();
  };
  return { station, close };
}
