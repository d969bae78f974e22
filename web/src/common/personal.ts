/**
 * What this browser keeps for one person: drafts and the like. Several may use one browser; nobody sees another's, and
 * who signs out leaves none behind.
 */
let person = '';
const begin = (id: string) => `keen.of.${id}.`;

/** Told by the session: whose things are kept from now on; empty: nobody's. */
export const holdPerson = (id: string): void => {
  person = id;
  // a first evening begun under an earlier version goes on
  const earlier = `keen.first-evening.${id}`;
  const begun = id && localStorage.getItem(earlier);
  if (begun && !localStorage.getItem(personalKey('first-evening')))
    localStorage.setItem(personalKey('first-evening'), begun);
  if (begun) localStorage.removeItem(earlier);
};
export const personalKey = (what: string): string => begin(person) + what;

const keysOf = (id: string, what = '') => Object.keys(localStorage).filter((k) => k.startsWith(begin(id) + what));
/** Drafts that were typed and not saved. */
export const unsavedDrafts = (): number => keysOf(person, 'draft.').length;
export const forgetPerson = (id: string): void => keysOf(id).forEach((k) => localStorage.removeItem(k));
