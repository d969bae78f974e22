import { expect, test } from '@jest/globals';
import { simulateGuiding } from '../observatory/index.ts';
import { LogInput, LogSummary, summaryOfLog } from './log.ts';

const samples = simulateGuiding({ seed: 4, seconds: 1800, fault: 'cloud' });

test('a summary kept before sentences had codes is still a summary; one made now has them', () => {
  const now = summaryOfLog(LogInput.parse({ samples }));
  expect(LogSummary.parse(now).verdict.phrases!.length).toBeGreaterThan(0);
  expect(now.findings.every((f) => f.phrases?.length === 2)).toBe(true);
  const old = {
    ...now,
    verdict: { level: now.verdict.level, text: now.verdict.text },
    findings: now.findings.map(({ phrases: _s, ...f }) => f),
  };
  expect(LogSummary.parse(old).findings[0]!.evidence).toBe(now.findings[0]!.evidence);
});
