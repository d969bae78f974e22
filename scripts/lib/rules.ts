import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import ts from 'typescript';

/** One limit, tolerance or threshold of the code. */
export interface Rule {
  file: string;
  line: number;
  name: string;
  value: string;
  unit: string;
  says: string;
  source: string;
}

/** Units by the end of a name, longest first. */
const UNITS: readonly (readonly [RegExp, string])[] = [
  [/_PER_SQ_DEG$/, '1/deg²'],
  [/_KGMM$/, 'kg·mm'],
  [/_ARCSEC$/, '″'],
  [/_ARCMIN$/, '′'],
  [/_PERCENT$/, '%'],
  [/_SHARE$/, 'share'],
  [/_TIMES$/, 'times'],
  [/_HOURS?$/, 'h'],
  [/_DAYS$/, 'days'],
  [/_MIN$/, 'min'],
  [/_DEG$/, 'deg'],
  [/_MAG$/, 'mag'],
  [/_BYTES$/, 'bytes'],
  [/_NM$/, 'N·m'],
  [/_KG$/, 'kg'],
  [/_MM$/, 'mm'],
  [/_UM$/, 'µm'],
  [/_MS$/, 'ms'],
  [/_PX$/, 'px'],
  [/_C$/, '°C'],
  [/_S$/, 's'],
  [/_A$/, 'A'],
];
/** What is no rule of the trade or of the machine: drawing, the working of a format, the unit of a conversion. */
const LEFT_OUT =
  /migrations\/|\/render\/|\/kits\/|phrases\/|theme|Picture|\/test\/|seed|demo|fitsTiles|fitsWrite|simulat|standIns|drills\//;

const SOURCES: readonly (readonly [RegExp, string])[] = [
  [/common practice/i, 'common practice, no source'],
  [/our own judgement/i, 'our own judgement, no source'],
  [/\bguess\b/i, 'a guess, no source'],
];

/** The numbers of an initializer: one, or those of a flat object by their keys; null where it is none. */
function numbersOf(node: ts.Expression, text: string): string | null {
  if (ts.isAsExpression(node) || ts.isSatisfiesExpression(node) || ts.isParenthesizedExpression(node))
    return numbersOf(node.expression, text);
  if (ts.isNumericLiteral(node)) return node.text.replace(/_/g, '');
  if (ts.isPrefixUnaryExpression(node) && ts.isNumericLiteral(node.operand)) return `−${node.operand.text}`;
  if (ts.isBinaryExpression(node)) {
    const [left, right] = [numbersOf(node.left, text), numbersOf(node.right, text)];
    const sign = {
      [ts.SyntaxKind.AsteriskToken]: '·',
      [ts.SyntaxKind.SlashToken]: '/',
      [ts.SyntaxKind.AsteriskAsteriskToken]: '^',
      [ts.SyntaxKind.PlusToken]: '+',
      [ts.SyntaxKind.MinusToken]: '−',
    }[node.operatorToken.kind as number];
    return left && right && sign ? `${left} ${sign} ${right}` : null;
  }
  if (ts.isObjectLiteralExpression(node)) {
    const parts = node.properties.map((p) => {
      if (!ts.isPropertyAssignment(p)) return null;
      const value = numbersOf(p.initializer, text);
      return value === null ? null : `${p.name.getText()} ${value.includes(', ') ? `(${value})` : value}`;
    });
    return parts.length > 0 && parts.every((p) => p !== null) ? parts.join(', ') : null;
  }
  return null;
}

/** Conversions of units are no rules. */
const CONVERSION =
  /^(HOUR|MIN|DAY|HALF_HOUR|YEAR)_MS$|^(FWHM_PER_SIGMA|MAS_PER_DEG|ORDER|RANK|SECONDS|MILLIMETRES|FRACTIONS)$/;

/** What stands before a declaration; one right below another shares its comment. */
const docOf = (node: ts.Node, text: string): string => {
  const found = ts.getLeadingCommentRanges(text, node.getFullStart())?.at(-1);
  return found
    ? text
        .slice(found.pos, found.end)
        .replace(/^\/\*\*?|\*\/$|^\/\//g, '')
        .replace(/^\s*\*\s?/gm, '')
        .replace(/\s+/g, ' ')
        .trim()
    : '';
};

/** Every constant in capitals that is a number, or a few, at the top of a file. */
export function rulesIn(file: string, text: string): Rule[] {
  const script = file.endsWith('.vue') ? /<script[^>]*>([\s\S]*?)<\/script>/.exec(text) : null;
  const code = file.endsWith('.vue') ? ' '.repeat(0) + (script?.[1] ?? '') : text;
  const before = script ? text.slice(0, script.index + script[0].indexOf(script[1]!)).split('\n').length - 1 : 0;
  const source = ts.createSourceFile(file, code, ts.ScriptTarget.Latest, true);
  let shared = '';
  return source.statements.flatMap((s, i) => {
    const own = docOf(s, code);
    const above = source.statements[i - 1];
    const adjoins = above && !/\n\s*\n/.test(code.slice(above.end, s.getStart()));
    // one comment may speak of several that stand under it
    shared = own || (adjoins && /,? and /.test(shared) ? shared : '');
    const says = shared;
    if (!ts.isVariableStatement(s)) return [];
    return s.declarationList.declarations.flatMap((d): Rule[] => {
      const name = d.name.getText();
      if (!/^[A-Z][A-Z0-9_]{2,}$/.test(name) || CONVERSION.test(name) || !d.initializer) return [];
      const value = numbersOf(d.initializer, code);
      // on a screen a number without a comment is a measure of the drawing
      if (value === null || (file.endsWith('.vue') && !says)) return [];
      const cited = SOURCES.find(([words]) => words.test(says))?.[1] ?? /[Ss]ource: ([^.]+)/.exec(says)?.[1] ?? '';
      const unit = /\[([^\]]{1,14})\]/.exec(says)?.[1] ?? UNITS.find(([end]) => end.test(name))?.[1] ?? '';
      const line = before + source.getLineAndCharacterOfPosition(d.getStart()).line + 1;
      return [{ file, line, name, value, unit, says, source: cited }];
    });
  });
}

/** The rules of the whole tree, by folder and file. */
export function allRules(root: string): Rule[] {
  const files = execFileSync('git', ['ls-files', 'core/src', 'contract/src', 'server/src', 'web/src'], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter((f) => /\.(ts|vue)$/.test(f) && !/\.test\.ts$/.test(f) && !LEFT_OUT.test(f));
  return files.flatMap((f) => rulesIn(f, readFileSync(`${root}/${f}`, 'utf8')));
}

/** The page: a table for each folder. */
export function rulesPage(rules: readonly Rule[]): string {
  const cell = (text: string) => text.replaceAll('|', '\\|');
  const groups = new Map<string, Rule[]>();
  for (const r of rules) {
    const folder = r.file
      .split('/')
      .slice(0, r.file.startsWith('web') ? 4 : 3)
      .filter((p) => !p.includes('.'))
      .join('/');
    groups.set(folder, [...(groups.get(folder) ?? []), r]);
  }
  const tables = [...groups].map(
    ([folder, own]) =>
      `## ${folder}\n\n| Rule | Value | Unit | What it says | Source | File |\n| --- | --- | --- | --- | --- | --- |\n${own
        .map(
          (r) =>
            `| \`${r.name}\` | ${cell(r.value)} | ${r.unit} | ${cell(r.says)} | ${cell(r.source)} | [${r.file.split('/').at(-1)}](../${r.file}) |`,
        )
        .join('\n')}\n`,
  );
  return `# Limits, tolerances and thresholds

Made from the code by \`npm run docs:rules\`: every named number of core, contract, server and page, with what its comment says. A source is what
the comment names; an empty one is a bound of this product or of the machine it runs on. Numbers that belong to a drawing, a file format or the
simulated sky are left out.

${tables.join('\n')}`;
}
