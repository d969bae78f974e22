import { questions } from '../../api/questions.ts';
import { nameOf, words } from '@keen/core/phrases';
import { api, MAX_LOG_TEXT, type GuideLogRecord } from '@keen/contract';
import { guessGuideMapping, guideToCsv, type AngleUnit, type GuideCsv, type GuideMapping } from '@keen/core/exchange';
import type { LogOutput, LogSummary, Spectrum } from '@keen/core/guiding';
import { simulateGuiding, type GuideFault } from '@keen/core/observatory';
import { scaleArcsecPerPx } from '@keen/core/quantities';
import { message } from 'ant-design-vue';
import { computed, ref, shallowRef, watch } from 'vue';
import { call } from '../../api/client.ts';
import { useAnswer } from '../../common/answer.ts';
import { problemText } from '../../common/outcome.ts';
import { useColumnMemory } from '../../common/columnMemory.ts';
import { useClub } from '../../stores/club.ts';
import { useHandOver } from '../../stores/handOver.ts';
import { calculate, core, plainCopy } from '../../workers/index.ts';
import { latestOnly } from '../../common/latestOnly.ts';

/** Largest file read in the browser [bytes]. */
const MAX_FILE = 120_000_000;

/** A guide log from file or from the kept ones, read in the worker, compared with another, and kept. */
export function useGuideLog() {
  const club = useClub();
  const text = ref('');
  const name = ref('');
  const trouble = ref('');
  const read = shallowRef<GuideCsv | null>(null);
  const mapping = ref<GuideMapping>({});
  const columns = ref<string[]>([]);
  const memory = useColumnMemory<{ mapping: GuideMapping; unit: AngleUnit; scale: number | null }>('guiding');
  const unit = ref<AngleUnit>('arcsec');
  const scale = ref<number | null>(1);
  const result = shallowRef<LogOutput | null>(null);
  const spectrum = shallowRef<Spectrum | null>(null);
  const before = shallowRef<{ id: string | null; name: string; result: Omit<LogSummary, 'samples' | 'spanS'> } | null>(
    null,
  );
  const span = ref<[number, number] | null>(null);
  const tookMs = ref(0);
  const busy = ref(false);
  const imagingScale = computed(() =>
    club.rig ? scaleArcsecPerPx(club.rig.setup.camera.pixelUm, club.rig.setup.focalLengthMm) : null,
  );

  /** The rig's own guide scale, offered where a log is in pixels. */
  const guideScale = computed(() => {
    const s = club.rig?.setup;
    if (!s) return null;
    if (s.offAxis) return scaleArcsecPerPx(s.offAxis.camera.pixelUm, s.focalLengthMm);
    return s.guideScope ? scaleArcsecPerPx(s.guideScope.pixelUm, s.guideScope.focalLengthMm) : null;
  });

  async function parse(given?: GuideMapping): Promise<void> {
    busy.value = true;
    const got = await core().readGuideCsv(
      text.value,
      given && plainCopy(given),
      unit.value === 'px' ? (scale.value ?? 1) : 1,
    );
    busy.value = false;
    mapping.value = got.mapping;
    columns.value = got.columns;
    const known = given ? null : memory.recall(got.columns);
    if (known) {
      mapping.value = known.mapping;
      const same = known.unit === unit.value && known.scale === scale.value;
      [unit.value, scale.value] = [known.unit, known.scale];
      // a change of unit reads the log again, with these columns
      return same ? parse(known.mapping) : undefined;
    }
    // a log that names its unit is read in it; the watcher reads it again
    if (!given && got.unit && got.unit !== unit.value) {
      unit.value = got.unit;
      if (got.unit === 'px' && scale.value === 1 && guideScale.value)
        scale.value = Math.round(guideScale.value * 1000) / 1000;
      return;
    }
    read.value = got;
  }
  async function take(file: File): Promise<void> {
    trouble.value = '';
    if (file.size > MAX_FILE) {
      trouble.value = `${file.name} is ${(file.size / 1e6).toFixed(0)} MB; logs up to ${MAX_FILE / 1e6} MB are read. Split it by night.`;
      return;
    }
    if (result.value) before.value = { id: null, name: name.value, result: result.value };
    name.value = file.name;
    text.value = await file.text();
    span.value = null;
    await parse();
  }
  /** A log in our own columns, whatever was chosen for files. */
  async function takeOwn(csv: string): Promise<void> {
    const own = guessGuideMapping(csv.slice(0, csv.indexOf('\n')).split(','));
    text.value = csv;
    span.value = null;
    mapping.value = own;
    unit.value = 'arcsec';
    await parse(own);
  }
  /** A simulated night to learn reading by. */
  async function rehearse(fault: GuideFault): Promise<void> {
    const samples = simulateGuiding({
      seed: Date.now() % 100_000,
      seconds: 5400,
      fault,
      wormPeriodS: club.rig?.setup.mount.wormPeriodS,
    });
    if (result.value) before.value = { id: null, name: name.value, result: result.value };
    name.value = `stand-in, ${words(nameOf(fault))}`;
    await takeOwn(guideToCsv(samples));
  }
  /** What a person chose holds for the next file with these headings. */
  async function map(given: GuideMapping): Promise<void> {
    await parse(given);
    memory.remember(columns.value, { mapping: plainCopy(given), unit: unit.value, scale: scale.value });
  }
  watch([unit, scale], () => text.value && void map(mapping.value));
  const chosen = computed(() => {
    const all = read.value?.samples ?? [];
    return span.value ? all.filter((s) => s.timeS >= span.value![0] && s.timeS <= span.value![1]) : all;
  });
  const ask = latestOnly();
  watch(chosen, async (samples) => {
    const late = ask();
    result.value = null;
    spectrum.value = null;
    if (!samples.length) return;
    const begun = performance.now();
    const got = await calculate('guide.log', {
      samples,
      ...(imagingScale.value ? { imagingScaleArcsecPerPx: imagingScale.value } : {}),
    });
    if (late()) return;
    tookMs.value = performance.now() - begun;
    if (got.ok) result.value = got.value;
    trouble.value = got.ok ? '' : problemText(got.problem);
    const found = await core().guideSpectrum(samples);
    if (!late()) spectrum.value = found;
  });

  const answer = useAnswer('The guide logs of this rig', () => (club.rig ? questions.guideLogs(club.rig.id) : null));
  const logs = computed<GuideLogRecord[]>({ get: () => answer.value.value ?? [], set: answer.put });
  async function keep(fields: { name: string; note: string; night: string; beganAt: string | null }): Promise<boolean> {
    if (!club.rig || !read.value) return false;
    const csv = guideToCsv(chosen.value);
    if (csv.length > MAX_LOG_TEXT) {
      trouble.value = `A kept log may have ${(MAX_LOG_TEXT / 1e6).toFixed(0)} million characters, about twelve hours at one second; choose a span of this one.`;
      return false;
    }
    const got = await call(api.keepGuideLog, {
      params: { id: club.rig.id },
      body: {
        ...fields,
        system: club.rig.system.key,
        csv,
        ...(imagingScale.value ? { imagingScaleArcsecPerPx: imagingScale.value } : {}),
      },
    });
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (!got.ok) return false;
    logs.value = [got.value, ...logs.value].sort((a, b) => (a.night > b.night ? -1 : a.night < b.night ? 1 : 0));
    void message.success(`Kept with ${got.value.words}.`);
    return true;
  }
  async function open(log: GuideLogRecord): Promise<void> {
    const got = await call(api.guideLog, { params: { id: log.id } });
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (!got.ok) return;
    name.value = log.name;
    await takeOwn(got.value.csv);
    window.scrollTo({ top: 0 });
  }
  const compare = (log: GuideLogRecord) => {
    before.value = { id: log.id, name: log.name, result: log.summary };
  };
  async function drop(log: GuideLogRecord): Promise<void> {
    const got = await call(api.dropGuideLog, { params: { id: log.id } });
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (got.ok) logs.value = logs.value.filter((l) => l.id !== log.id);
  }
  /** When the first sample that would be kept was taken: as the log tells, or as somebody told. */
  const toldBegan = ref<string | null>(null);
  watch(text, () => (toldBegan.value = null));
  const beganAt = computed({
    get: () => {
      if (toldBegan.value || !read.value?.beganAt) return toldBegan.value;
      return new Date(Date.parse(read.value.beganAt) + 1000 * (chosen.value[0]?.timeS ?? 0)).toISOString();
    },
    set: (at: string | null) => (toldBegan.value = at),
  });
  const given = useHandOver().take('guide-log');
  if (given) void take(given);
  return {
    answer,
    name,
    trouble,
    read,
    mapping,
    unit,
    scale,
    result,
    spectrum,
    before,
    span,
    tookMs,
    busy,
    imagingScale,
    take,
    rehearse,
    map,
    logs,
    keep,
    beganAt,
    open,
    compare,
    drop,
  };
}
