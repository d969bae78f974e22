/** Camera threads, from either side of a joint. */
const pair = (size: string) => ({
  male: { size, gender: 'male' as const },
  female: { size, gender: 'female' as const },
});
export const M42 = pair('M42x0.75');
export const M48 = pair('M48x0.75');
export const M54 = pair('M54x0.75');
export const M68 = pair('M68x1');
