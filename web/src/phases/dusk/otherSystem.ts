import { SecondTube } from '@keen/contract';
import { computed } from 'vue';
import { rigView, useClub } from '../../stores/club.ts';

/** The rig's other imaging system as a second tube: what it is comes from the rig, how it is used is kept as it was. */
export function useOtherSystem() {
  const club = useClub();
  const other = computed(() => {
    const record = club.records.find((r) => r.id === club.rig?.id);
    const system = record?.systems.find((s) => s.key !== club.rig!.system.key);
    return record && system ? { name: system.name, setup: rigView(record, system.key).setup } : null;
  });
  /** Values of the second tube that the rig knows. */
  const known = computed(() => {
    if (!other.value) return null;
    const { name, setup } = other.value;
    return {
      name: name.slice(0, 40),
      focalLengthMm: setup.focalLengthMm,
      pixelUm: setup.camera.pixelUm,
      widthPx: setup.camera.widthPx,
      heightPx: setup.camera.heightPx,
      downloadS: setup.overheads.downloadS,
    };
  });
  const tubeOf = (before: SecondTube | null): SecondTube => SecondTube.parse({ ...before, ...known.value });
  /** The second tube on record is not the rig's. */
  const differs = (second: SecondTube) =>
    known.value !== null && Object.entries(known.value).some(([k, v]) => second[k as keyof SecondTube] !== v);
  return { other, tubeOf, differs };
}
