import { expect, test } from '@jest/globals';
import { useColumnMemory } from './columnMemory.ts';

interface How {
  unit: string;
}

test('files with the same headings are read as last time, others are not, and only so many are remembered', () => {
  const memory = useColumnMemory<How>('test');
  expect(memory.recall(['a', 'b'])).toBeNull();
  memory.remember(['a', 'b'], { unit: 'px' });
  memory.remember(['a b'], { unit: 'arcsec' });
  expect(memory.recall(['a', 'b'])).toEqual({ unit: 'px' });
  expect(memory.recall(['b', 'a'])).toBeNull();
  memory.remember(['a', 'b'], { unit: 'arcsec' });
  expect(memory.recall(['a', 'b'])).toEqual({ unit: 'arcsec' });
  memory.remember([], { unit: 'px' });
  expect(memory.recall([])).toBeNull();
  // the last thirty stay
  for (let i = 0; i < 29; i++) memory.remember([`column ${i}`], { unit: 'px' });
  expect(memory.recall(['a', 'b'])).not.toBeNull();
  memory.remember(['one more'], { unit: 'px' });
  expect(memory.recall(['a b'])).toBeNull();
  expect(memory.recall(['a', 'b'])).toBeNull();
  expect(memory.recall(['column 0'])).not.toBeNull();
});
