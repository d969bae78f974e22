import { figure, formatDec, formatRa } from '@keen/core/quantities';
import { cooling, CoolingInput, coolingFrom, type Fact } from '@keen/core/setup';
import { night as nightOf, pole } from '@keen/core/sky';
import { computed } from 'vue';
import { clock, clockOr } from '../../common/times.ts';
import { useClub } from '../../stores/club.ts';
import { coreSite, firstLegOf } from '../../common/records.ts';
import { useDuskSettings } from './useDuskSettings.ts';
import { useGuider } from './useGuider.ts';
import { useUnits } from '../../stores/units.ts';

/** Tonight's own figures beside the steps they belong to, and when a step is due. */
export function useSetupFacts() {
  const club = useClub();
  const units = useUnits();
  const dusk = useDuskSettings();
  const criteria = computed(() => dusk.settings.cooling);
  const zone = computed(() => club.site?.timeZone ?? 'UTC');
  const night = computed(() =>
    club.site && club.night ? nightOf({ site: coreSite(club.site), date: club.night }) : null,
  );
  /** The first leg of tonight. */
  const plan = computed(() => {
    const planned = club.nightPlans.filter((p) => p.rigId === club.rig?.id && p.status === 'planned');
    const first = planned.sort((a, b) => (a.start < b.start ? -1 : 1))[0];
    return first ? firstLegOf(first) : null;
  });
  const project = computed(() => club.projects.find((p) => p.id === plan.value?.projectId) ?? null);
  /** The first frame that must be cold: focusing, at nautical dusk or the plan's own start if that is earlier. */
  const neededAt = computed(() => {
    const times = [night.value?.nauticalDusk, plan.value?.start].filter((t): t is string => typeof t === 'string');
    return times.sort()[0] ?? night.value?.sunset ?? night.value?.middle ?? null;
  });
  const cool = computed(() => {
    if (!neededAt.value) return null;
    const got = CoolingInput.safeParse({ ...criteria.value, neededAt: neededAt.value });
    return got.success ? cooling(got.data) : null;
  });
  /** Begun now where its moment has passed: tonight only. */
  const coolNow = computed(() =>
    cool.value && neededAt.value ? coolingFrom(cool.value, neededAt.value, club.nightNow ?? -Infinity) : null,
  );
  const { steps: pulse, criteria: guiding } = useGuider();
  const facts = computed<Partial<Record<Fact, string>>>(() => {
    const [site, n, z] = [club.site, night.value, zone.value];
    if (!site || !n || !club.rig) return {};
    const at = new Date(club.now).toISOString();
    const p = pole({ site: coreSite(site), time: at });
    const south = site.latitudeDeg < 0;
    const f = project.value?.framing;
    const wheel = club.rig.setup.wheel;
    const first = wheel[0];
    return {
      latitude: `${figure(Math.abs(site.latitudeDeg), 1)}° ${south ? 'S: front leg to true south' : 'N: front leg to true north'}`,
      home: `Weights down, tube at the ${south ? 'south' : 'north'} pole. Level the shaft, zero its circle, turn 90°.`,
      pole: `${p.star} at ${p.clockInverted} in a scope that inverts, ${p.clock} by eye, now ${clock(at, z)}.`,
      sunset: `Sunset ${clockOr(n.sunset, z)}.`,
      dusk: `Stars for it from nautical dusk, ${clockOr(n.nauticalDusk, z)}.`,
      ...(cool.value
        ? {
            cooling: `${coolNow.value!.late ? 'Now' : `By ${clock(cool.value.startAt, z)}`} for ${units.temperature(criteria.value.setPointC, 0)} at ${clock(coolNow.value!.coldMs, z)}. ${cool.value.reachable ? '' : 'Out of reach in this air!'}`,
          }
        : {}),
      ...(first ? { 'focus-filter': `Slot ${first.slot}: ${first.filter || 'blank'}, of ${wheel.length}.` } : {}),
      framing: project.value
        ? f
          ? `${project.value.object}: ${formatRa(f.raDeg)} ${formatDec(f.decDeg)}, camera at ${figure(f.angleDeg, 1)}°.`
          : `${project.value.object}: ${formatRa(project.value.raDeg)} ${formatDec(project.value.decDeg)}, camera at ${figure(project.value.angleDeg, 0)}°; framing not pinned.`
        : 'No plan for this rig tonight.',
      ...(pulse.value
        ? {
            guiding: `Pulses of ${Math.round(pulse.value.pulseMs / 10) * 10} ms at ${guiding.value.guideRate} of the sidereal rate.`,
          }
        : {}),
      'guide-star': f?.star
        ? `Magnitude ${figure(f.star.mag, 1)} at ${formatRa(f.star.raDeg)} ${formatDec(f.star.decDeg)}, ${f.guideExposureS} s.`
        : 'None chosen: see Night, Target.',
      'first-exposure': plan.value
        ? `${plan.value.object} at ${clock(plan.value.start, z)}, until ${clock(plan.value.end, z)}.`
        : 'No plan for this rig tonight.',
      flip: plan.value?.flipAt
        ? `Due at ${clock(plan.value.flipAt, z)}.`
        : plan.value
          ? 'None in this plan.'
          : 'No plan for this rig tonight.',
      dawn: `Dawn begins ${clockOr(n.astronomicalDawn, z)}.`,
    };
  });
  /** The moment by which a step should be done, for those that have one. */
  const due = computed<Partial<Record<Fact, string>>>(() => ({
    ...(cool.value ? { cooling: cool.value.startAt } : {}),
    ...(night.value?.nauticalDusk ? { dusk: night.value.nauticalDusk } : {}),
    ...(plan.value ? { 'first-exposure': plan.value.start } : {}),
  }));
  /** Before this a step cannot be done. */
  const notBefore = computed<Partial<Record<Fact, string>>>(() => ({
    ...(night.value?.sunset ? { sunset: night.value.sunset } : {}),
    ...(night.value?.nauticalDusk ? { dusk: night.value.nauticalDusk } : {}),
    ...(plan.value ? { 'first-exposure': plan.value.start } : {}),
  }));
  return { facts, due, notBefore, cool, criteria, zone, night, plan, project, neededAt, coolNow };
}
