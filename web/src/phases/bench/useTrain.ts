import type { PartRecord } from '@keen/contract';
import { parseInput, type Verdict } from '@keen/core/calculation';
import { makeVerdict, phrase, type Phrase } from '@keen/core/phrases';
import type { RigSetup, TrainPart } from '@keen/core/rig';
import {
  adapters,
  AdaptersInput,
  field,
  FieldInput,
  guiderAt,
  mates,
  placeForPiece,
  reducer,
  ReducerInput,
  soundsLike,
  trainDistance,
} from '@keen/core/train';
import { computed, ref, watch, type Ref } from 'vue';
import { valueOrNull } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/** One rig's train as it stands or in another configuration: residual, reducer, field, and joints that do not meet. */
export function useTrain(setup: Readonly<Ref<RigSetup | null>>, drawer: Readonly<Ref<readonly PartRecord[]>>) {
  const club = useClub();
  /** Which configuration is shown: the one that stands, or another of the same tube. */
  const shown = ref('');
  watch(
    () => club.rig?.id,
    () => (shown.value = ''),
  );
  const variant = computed(() => setup.value?.variants?.find((v) => v.name === shown.value) ?? null);
  const corrector = computed(() => variant.value?.corrector ?? setup.value?.corrector ?? null);
  const train = computed<TrainPart[]>(() => {
    const s = setup.value;
    if (!s) return [];
    if (!variant.value) return s.train;
    return [...variant.value.front, ...s.train.slice(Math.max(0, guiderAt(s)))];
  });

  const distance = computed(() => {
    const s = setup.value;
    if (!s || !corrector.value) return null;
    const rig = { ...plainCopy(s), corrector: plainCopy(corrector.value) };
    return valueOrNull(() => trainDistance(rig, plainCopy(train.value)));
  });
  const result = computed(() => distance.value?.result ?? null);
  const reduced = computed(() => {
    const r = corrector.value?.reducer;
    const s = setup.value;
    if (!r || !s || !result.value) return null;
    try {
      return reducer(
        parseInput(ReducerInput, {
          designFactor: r.designFactor,
          designSpacingMm: r.designSpacingMm,
          spacingMm: result.value.mechanicalMm - result.value.glassShiftMm,
          focalLengthMm: r.nativeFocalLengthMm,
        }),
      );
    } catch {
      return null;
    }
  });
  const view = computed(() => {
    const s = setup.value;
    if (!s) return null;
    const focalLengthMm = reduced.value?.focalLengthMm ?? variant.value?.focalLengthMm ?? s.focalLengthMm;
    return field(
      parseInput(FieldInput, {
        focalLengthMm,
        apertureMm: s.apertureMm,
        pixelUm: s.camera.pixelUm,
        widthPx: s.camera.widthPx,
        heightPx: s.camera.heightPx,
        seeingArcsec: 2.2,
      }),
    );
  });

  /** Joints whose threads do not meet, each with the shortest chain of adapters that mends it. */
  const mismatches = computed(() =>
    train.value.slice(0, -1).flatMap((p, i) => {
      const next = train.value[i + 1]!;
      if (!p.rear || !next.front || mates(p.rear, next.front)) return [];
      const stock = drawer.value
        .filter((d) => d.kind === 'adapter' && d.front && d.rear && d.count > 0 && d.usedIn.length === 0)
        .map((d) => ({ id: d.name, a: d.front!, b: d.rear!, lengthMm: d.measuredMm ?? d.lengthMm ?? 0 }));
      const got = adapters(parseInput(AdaptersInput, { from: p.rear, to: next.front, stock, maxPieces: 3, limit: 1 }));
      return [
        {
          at: i,
          phrase: phrase('train.threads-apart', {
            name: p.name,
            thread: `${p.rear.size} ${p.rear.gender}`,
            next: next.name,
            nextThread: `${next.front.size} ${next.front.gender}`,
          }),
          chain: got.chains[0] ?? null,
        },
      ];
    }),
  );
  const pieceOf = (name: string): TrainPart => {
    const d = drawer.value.find((p) => p.name === name);
    let unique = name;
    for (let n = 2; setup.value!.train.some((p) => p.name === unique); n++) unique = `${name} (${n})`;
    return {
      name: unique,
      lengthMm: d?.lengthMm ?? 0,
      ...(d?.measuredMm === undefined ? {} : { measuredMm: d.measuredMm, measuredBy: d.measuredBy ?? '' }),
      ...(d?.front ? { front: d.front } : {}),
      ...(d?.rear ? { rear: d.rear } : {}),
      ...(d?.kind === 'reducer' ? { role: 'corrector' as const } : {}),
      ...(d?.kind === 'camera' && !setup.value!.train.some((p) => soundsLike(p, 'camera'))
        ? { role: 'camera' as const }
        : {}),
    };
  };
  function insert(at: number, names: string[]) {
    for (const [k, n] of names.entries()) setup.value!.train.splice(at + k, 0, pieceOf(n));
  }
  /** A new piece behind the chosen one; a corrector to the front, a camera to the end, nothing behind the sensor. */
  function add(piece: TrainPart, chosen: number) {
    const list = setup.value!.train;
    const at = piece.role === 'camera' ? list.length : piece.role === 'corrector' ? 0 : placeForPiece(list, chosen);
    if (piece.role === 'corrector') for (const p of list) if (p.role === 'corrector') p.role = 'piece';
    list.splice(at, 0, piece);
  }
  /** Says what a piece is; there is one corrector and one camera. */
  function sayRole(name: string, role: TrainPart['role']) {
    for (const p of setup.value!.train)
      if (p.name === name) p.role = role;
      else if (p.role === role && role !== 'piece') delete p.role;
  }

  const verdict = computed<Verdict>(() => {
    const bad = mismatches.value[0];
    if (bad)
      return makeVerdict(
        'bad',
        bad.phrase,
        bad.chain ? phrase('train.mended-by', { pieces: bad.chain.ids.join(' + ') }) : phrase('train.not-mended'),
      );
    return distance.value?.verdict ?? makeVerdict('caution', phrase('train.say-distance'));
  });
  const notes = computed<Phrase[]>(() => {
    const range = result.value?.residualRangeMm;
    return [
      ...(reduced.value ? [phrase('train.reducer'), ...reduced.value.verdict.phrases] : []),
      ...(view.value
        ? [
            phrase('train.view', {
              pixelArcsec: view.value.scaleArcsecPerPx,
              widthArcmin: 60 * view.value.fieldDeg.width,
              heightArcmin: 60 * view.value.fieldDeg.height,
            }),
          ]
        : []),
      ...(range && range.max - range.min > 0.005
        ? [phrase('train.range', { minMm: range.min, maxMm: range.max })]
        : []),
    ];
  });
  return {
    shown,
    variant,
    corrector,
    train,
    distance,
    result,
    reduced,
    view,
    mismatches,
    pieceOf,
    insert,
    add,
    sayRole,
    verdict,
    notes,
  };
}
