import { beforeEach, expect, test } from '@jest/globals';
import type { ProjectRecord } from '@keen/contract';
import { flushPromises } from '@vue/test-utils';
import { mountScreen, me, project, sent } from '../test/mountScreen.ts';
import MakeGoal from './MakeGoal.vue';

beforeEach(() => localStorage.clear());

const goals = [{ filter: 'Ha', exposureS: 300, quota: 40 }];
const shown = (more: object = {}) =>
  mountScreen(MakeGoal, {
    props: { project: project({ goals }), filter: 'Ha', exposureS: 600, frames: 4 },
    answers: [{ method: 'PUT', path: /projects/, body: project({ goals }) }],
    ...more,
  });

test('says that the frames would count for nothing; a press adds the goal and keeps what is there', async () => {
  const { wrapper } = await shown();
  expect(wrapper.text()).toContain('asks for Ha 600 s: it would count for nothing');
  await wrapper.find('button').trigger('click');
  await flushPromises();
  const body = sent.find((s) => s.method === 'PUT')!.body as ProjectRecord;
  expect(body.goals).toEqual([...goals, { filter: 'Ha', exposureS: 600, quota: 4 }]);
  expect(body).not.toHaveProperty('done');
});

test('another person’s project names whom to ask', async () => {
  const { wrapper } = await shown({ member: me({ role: 'member', id: '00000000-0000-4000-8000-000000000077' }) });
  expect(wrapper.find('button').exists()).toBe(false);
  expect(wrapper.text()).toContain('Its owner, Noor Vik, can make it one');
});
