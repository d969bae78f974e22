/** The IANA zone of a place, from the shipped map; the browser's own zone where the map has none this browser knows. */
export async function proposedZone(latitudeDeg: number, longitudeDeg: number): Promise<string> {
  const own = Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC';
  try {
    const { default: lookup } = await import('@photostructure/tz-lookup');
    const zone = lookup(latitudeDeg, longitudeDeg);
    // throws for a zone this browser's tables do not have
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return zone;
  } catch {
    return own;
  }
}
