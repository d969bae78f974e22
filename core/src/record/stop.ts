/** What a fault keeps from work: a rig, or one imaging system of it; up to a night, or until it is cured. */
export interface Stop {
  /** Null: the whole rig. */
  system: string | null;
  /** The last night of it, as far as is known; null: until it is cured. */
  until: string | null;
}

/**
 * Does a fault keep a rig from work in a night? One that is cured keeps nothing.
 * @param of  without a system: is the whole rig kept from it?
 */
export const isStopped = (
  fault: { stops: Stop | null; cure: string },
  of: { system?: string; night: string },
): boolean =>
  fault.stops !== null &&
  fault.cure.trim() === '' &&
  (fault.stops.system === null || fault.stops.system === of.system) &&
  (fault.stops.until === null || of.night <= fault.stops.until);
