// Jest transformer for .vue: the compiler's script with its template inlined, then TypeScript stripped by swc.
import { createHash } from 'node:crypto';
import { transformSync } from '@swc/core';
import { compileScript, parse } from '@vue/compiler-sfc';

export default {
  getCacheKey: (source, file) => createHash('sha1').update(source).update(file).update('4').digest('hex'),
  process(source, filename) {
    const id = createHash('sha1').update(filename).digest('hex').slice(0, 8);
    // a component that is only a template has an empty script
    const whole = /<script[\s>]/.test(source)
      ? source
      : `<script setup lang="ts">// only a template\n</script>\n${source}`;
    const { descriptor, errors } = parse(whole, { filename });
    if (errors.length) throw errors[0];
    const { content } = compileScript(descriptor, { id, inlineTemplate: true, genDefaultAs: '__component' });
    const { code, map } = transformSync(
      `${content}\n__component.__name ??= 'Component';\nexport default __component;`,
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
