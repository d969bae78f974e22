// Lint rules of this project: two traps of regular expressions, a clock that is read instead of passed in, a store that is changed
// from outside.
import { RegExpParser, visitRegExpAST } from '@eslint-community/regexpp';

const alphanumeric = (code) => /[0-9A-Za-z\u00C0-\uFFFF]/.test(String.fromCodePoint(code)) && code < 0x2000;
const escaped = (raw) => raw.startsWith('\\');

const parse = (pattern, flags) => {
  try {
    const unicode = flags.includes('u');
    return new RegExpParser().parsePattern(pattern, 0, pattern.length, { unicode, unicodeSets: flags.includes('v') });
  } catch {
    return null;
  }
};
const onPatterns = (look) => (context) => ({
  Literal(node) {
    if (!node.regex) return;
    const ast = parse(node.regex.pattern, node.regex.flags);
    if (ast) look(ast, (message) => context.report({ node, message }));
  },
});

/** `[+-−]` is a range from + to −, digits and letters included: a sign list is written `[+\-−]`. */
const noSignRange = {
  meta: { type: 'problem', schema: [] },
  create: onPatterns((ast, report) =>
    visitRegExpAST(ast, {
      onCharacterClassRangeEnter(range) {
        const { min, max } = range;
        if (escaped(min.raw) || escaped(max.raw)) return;
        if (!alphanumeric(min.value) || !alphanumeric(max.value))
          report(`“${range.raw}” is a range of characters; escape the hyphen`);
      },
    }),
  ),
};

const endless = (q) => q.type === 'Quantifier' && q.max === Infinity;
const optional = (e) => e.type === 'Quantifier' && e.min === 0;
/** What an endless repetition repeats, where it is one plain thing. */
const repeated = (q) =>
  ['CharacterSet', 'CharacterClass', 'Character'].includes(q.element.type) ? q.element.raw : null;

/** `(a+)+` and `\d+\.?\d*` take the square, or worse, of a long cell: somebody’s file holds the machine. */
const noSlowQuantifiers = {
  meta: { type: 'problem', schema: [] },
  create: onPatterns((ast, report) =>
    visitRegExpAST(ast, {
      onQuantifierEnter(q) {
        if (!endless(q)) return;
        for (let e = q.parent; e; e = e.parent)
          if (e.type === 'Quantifier' && endless(e) && !fixedLead(e.element)) {
            report(`“${e.raw}” repeats a repetition`);
            return;
          }
      },
      onAlternativeEnter(a) {
        a.elements.forEach((e, i) => {
          if (!endless(e)) return;
          for (let j = i + 1; j < a.elements.length; j++) {
            const next = a.elements[j];
            if (endless(next) && repeated(next) !== null && repeated(next) === repeated(e)) {
              report(
                `“${a.raw.slice(0, 40)}” has two endless repetitions of ${repeated(e)} with nothing certain between`,
              );
              return;
            }
            if (!optional(next)) return;
          }
        });
      },
    }),
  ),
};
/** A group whose every alternative begins with something certain of its own ends where it says so. */
const fixedLead = (element) =>
  (element.type === 'Group' || element.type === 'CapturingGroup') &&
  element.alternatives.every(
    (a) => a.elements.length > 0 && !optional(a.elements[0]) && a.elements[0].type === 'Character',
  );

const noOwnClock = {
  meta: { type: 'problem', schema: [] },
  create: (context) => ({
    NewExpression(node) {
      if (node.callee.name === 'Date' && !node.arguments.length) context.report({ node, message: 'Pass the time in.' });
    },
  }),
};

export const STORES = new Set(['club', 'session', 'units', 'light', 'handOver']);
/** In scripts; what stands in a template is the other linter's (eslint.config.mjs). */
const storesOwn = {
  meta: { type: 'problem', schema: [] },
  create: (context) => {
    const check = (node, changed) => {
      if (changed.type === 'MemberExpression' && STORES.has(changed.object.name))
        context.report({ node, message: 'A store is changed by its own actions.' });
    };
    return {
      AssignmentExpression: (node) => check(node, node.left),
      UpdateExpression: (node) => check(node, node.argument),
    };
  },
};

export default {
  meta: { name: 'keen' },
  rules: {
    'no-sign-range': noSignRange,
    'no-slow-quantifiers': noSlowQuantifiers,
    'no-own-clock': noOwnClock,
    'stores-own': storesOwn,
  },
};
