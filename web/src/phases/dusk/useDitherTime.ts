import { api } from '@keen/contract';
import { withView } from '@keen/core/rig';
import { message } from 'ant-design-vue';
import { computed, ref } from 'vue';
import { call } from '../../api/client.ts';
import { problemText } from '../../common/outcome.ts';
import { useClub } from '../../stores/club.ts';
import { plainCopy } from '../../workers/index.ts';

/** The dither time a rig's plans reckon with, and putting a better one on its record. */
export function useDitherTime() {
  const club = useClub();
  const busy = ref(false);
  const trouble = ref('');
  const reckoned = computed(() => club.rig?.setup.overheads.ditherS ?? null);
  async function adopt(seconds: number): Promise<void> {
    const rig = club.rig;
    if (!rig) return;
    busy.value = true;
    const setup = plainCopy(rig.setup);
    setup.overheads.ditherS = Math.round(seconds);
    const got = await call(api.reviseRig, {
      params: { id: rig.id },
      body: {
        name: rig.name,
        siteId: rig.siteId,
        setup: withView(rig.build, rig.system.key, setup),
        version: rig.version,
      },
    });
    busy.value = false;
    trouble.value = got.ok ? '' : problemText(got.problem);
    if (!got.ok) return;
    club.putRig(got.value);
    void message.success(`Plans on ${rig.name} now reckon ${Math.round(seconds)} s a dither.`);
  }
  return { reckoned, adopt, busy, trouble };
}
