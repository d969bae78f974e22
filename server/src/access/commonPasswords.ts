import { dictionary } from '@zxcvbn-ts/language-common';
import { Problem } from '../problems.ts';

/** Passwords that guessers try first; most are shorter than what is accepted anyway. */
const COMMON = new Set(dictionary['passwords-common'].map((p) => String(p)));
const plainText = (s: string) => s.normalize('NFKC').toLowerCase();
/** Without what is put behind a word to satisfy a rule: “password2026!” is “password”. */
const stem = (s: string) => s.replace(/[\d\W_]+$/u, '');

/**
 * Refuses a password that is on the list, is only one of the list with digits behind it, repeats one short piece, or is
 * made of the person's own names.
 * @param field  path of the field that is named in the refusal
 * @throws Problem invalid_input
 */
export function demandUncommon(password: string, names: readonly string[], field: string): void {
  const wanted = plainText(password);
  const bare = stem(wanted);
  const own = names.map(plainText).filter((n) => n.length > 0);
  const reason =
    COMMON.has(wanted) || COMMON.has(bare)
      ? 'is one that guessers try first; a few words that do not belong together are better'
      : own.includes(wanted) || own.includes(bare)
        ? 'is a name that others know; a few words that do not belong together are better'
        : bare === '' || /^(.{1,4})\1+.{0,3}$/u.test(wanted)
          ? 'is too easy to guess; a few words that do not belong together are better'
          : null;
  if (reason)
    throw new Problem('invalid_input', `That password ${reason}.`, { issues: [{ path: field, message: reason }] });
}
