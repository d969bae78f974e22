import { simulatedTruthOf, standIns, type FrameMeasure } from '@keen/core/observatory';
import { viewOf } from '@keen/core/rig';
import { RIGS } from '@keen/demo';
import type { AddressInfo } from 'node:net';
import { starFiles } from '../areas/calculations/starFiles.ts';
import { pacer } from '../areas/live/pacer.ts';
import type { Config } from '../config.ts';
import { DeviceStation, deviceService } from '../devices/service.ts';
import { standInFrames } from '../devices/standInFrames.ts';

/**
 * Stand-ins behind the protocol on a port of this machine, known to a server by a name until it is closed.
 * @param tells  whether it says what it sees on a frame, or gives the file alone
 */
export async function standInBridge(config: Config, name: string, startMs: number, speed = 300, tells = true) {
  const setup = viewOf(RIGS[0]!.build);
  const world = simulatedTruthOf(setup, 3, startMs, startMs + 36_000_000);
  const { pace, begin } = pacer({ speed: () => speed, everyMs: 20, meanwhile: async () => false });
  begin();
  const about = { name, filters: world.filters, deadManS: 30, simulated: true, speed };
  const o = standIns(world, setup.overheads, pace);
  let seen: FrameMeasure | null = null;
  const silent = async (s: number): Promise<FrameMeasure> => {
    seen = await o.camera.expose(s);
    return null as never;
  };
  const file = standInFrames(starFiles(config.dataFolder), world.scaleArcsecPerPx);
  const camera = tells ? o.camera : { ...o.camera, expose: silent };
  const station = new DeviceStation({ ...o, camera }, about, {
    fileOf: (taken) => file(tells ? taken : { ...taken, measure: seen! }),
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
