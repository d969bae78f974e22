// Jest transformer for .vue: the compiler's script with its template inlined, then TypeScript stripped by swc.
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, realpathSync } from 'node:fs';
import typescript from 'typescript';
import { transformSync } from '@swc/core';
import { compileScript, parse, registerTS } from '@vue/compiler-sfc';
import { OWN_GLOBALS } from './jest-ts.mjs';

// props whose type stands in another file are looked up there
registerTS(() => typescript);
const fs = { fileExists: existsSync, readFile: (f) => readFileSync(f, 'utf8'), realpath: realpathSync };

export default {
  getCacheKey: (source, file) => createHash('sha1').update(source).update(file).update('8').digest('hex'),
  process(source, filename) {
    const id = createHash('sha1').update(filename).digest('hex').slice(0, 8);
    // a component that is only a template has an empty script
    const whole = /<script[\s>]/.test(source)
      ? source
      : `<script setup lang="ts">// only a template\n</script>\n${source}`;
    const { descriptor, errors } = parse(whole, { filename });
    if (errors.length) throw errors[0];
    const { content } = compileScript(descriptor, { id, inlineTemplate: true, genDefaultAs: '__component', fs });
    const { code, map } = transformSync(
      `${OWN_GLOBALS}${content}\n__component.__name ??= 'Component';\nexport default __component;`,
      {
        filename: `${filename}.ts`,
        jsc: { target: 'es2022', parser: { syntax: 'typescript' } },
        module: { type: 'es6' },
        sourceMaps: true,
      },
    );
    return { code, map };
  },
};
