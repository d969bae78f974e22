/** Whether a rig’s cables carry what is asked of them. */
export const cablePhrases = {
  'cable.data': '{name}: {asked:0} MB/s are asked for, its way to the computer carries about {carries:0}.',
  'cable.ports': '{name}: {used} things hang on {ports} ports.',
  'cable.hub-current': '{name} gives {givesA:1} A at 5 V, {takenA:1} A are taken at most.',
  'cable.port-current': '{name} takes {takenA:1} A where a port gives {givesA:1} A: it needs power of its own.',
  'cable.deep': '{name} is the {depth:0}th hub in a row; {deepest} are allowed.',
  'cable.long': '{name}: {lengthM:1} of data cable, {longestM:1} are safe.',
  'cable.supply': 'All at once take {peakA:1} A; the supply gives {amps:1} A.',
  'cable.fuse': 'All at once take {peakA:1} A: the fuse of {fuseA:1} A blows.',
  'cable.thin':
    'The wire to {names} burns before the fuse of {fuseA:1} A does: it wants {copper:2} mm², or a fuse of its own.',
  'cable.drop': '{name} gets {arrivesV:1} V at most load, {lostV:1} V are lost on the way.',
  'cable.battery':
    'The night needs {needWh:0} Wh; in this cold ({airC}) the battery gives {haveWh:0}, enough for {lastsHours:1}.',
  'cable.short':
    'The cables are {freeMm} long and have to reach {farthestMm}, at {hourAngleDeg} from the meridian and {decDeg} declination: they will be torn.',
  'cable.tight': 'The cables reach, without slack: {wantedMm} are wanted, {freeMm} are there.',
  'cable.fine': 'Data, currents and slack hold: {peakA:1} A at most of {amps:1} A, {needWh:0} Wh for the night.',
} as const;
