import { drillOf, SITUATIONS } from '@keen/core/drills';
import { diagnose, frameLook, measurePicture, renderCounts } from '@keen/core/frames';
import { readLog } from '@keen/core/guiding';
import { writeFits16 } from '@keen/core/exchange';
const F: Record<string, RegExp> = { 'wrong-spacing': /^spacing/, 'tilted-sensor': /^tilt/, 'prism-in-the-light': /^prism-shadow/, 'guide-camera-out-of-reach': /^defocus/, 'focus-not-reached': /^defocus/, 'fine-graph-long-stars': /^trailing/, 'second-camera-jumps': /^trailing/ };
const L: Record<string, string> = { 'fine-graph-long-stars': 'calm', 'the-star-that-never-moved': 'hot-pixel-lock', 'saw-teeth': 'over-correction-ra', 'declination-hangs': 'dec-backlash', 'slow-climb': 'polar-drift', 'jumps-out-of-nothing': 'gust', 'slow-wave': 'periodic-error', 'signal-sinks': 'cloud' };
for (const key of Object.keys(SITUATIONS) as (keyof typeof SITUATIONS)[]) {
  let bad: string[] = [], n = 0;
  for (let seed = 100; seed < 160; seed++) {
    const d = drillOf(key, seed);
    for (const e of d.exhibits) {
      if (e.kind === 'frame' && (F[key] || key === 'a-bright-line' || key === 'white-without-colour' || key==='guide-camera-half-lit')) {
        n++;
        const m = frameLook(measurePicture(writeFits16(renderCounts(e.scene), e.scene.widthPx, e.scene.heightPx, [])));
        const codes = diagnose(m, null, 1.5).map((f) => f.code);
        const cells = m.grid.map((c) => c.background);
        const ok = key === 'a-bright-line' ? m.trails > 0 : key === 'white-without-colour' ? m.saturatedFraction > 0.1 : key === 'guide-camera-half-lit' ? Math.min(...cells) < 0.8 * Math.max(...cells) : codes.some((c) => F[key]!.test(c));
        if (!ok) bad.push(`${seed}:${codes} ${m.trails} ${m.saturatedFraction}`);
      }
      if (e.kind === 'guide-log' && L[key]) { n++; const c = readLog({ samples: e.samples } as never).findings.map((f) => f.code); if (!c.includes(L[key] as never)) bad.push(`${seed}:${c}`); }
    }
  }
  if (n) console.log(key, n, bad);
}
