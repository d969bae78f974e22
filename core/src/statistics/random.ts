/** A seeded source of random numbers: same seed, same sequence, on every machine. */
export interface Random {
  /** Uniform in [0, 1). */
  next(): number;
  /** Normal with mean 0 and standard deviation 1 (Box–Muller). */
  normal(): number;
  /** Exponential with the given mean. */
  exponential(mean: number): number;
  /** An independent stream that depends on this seed and the label only. */
  fork(label: string): Random;
}

/** FNV-1a, 32 bit: text to seed. */
export function hash32(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    h ^= text.charCodeAt(i);
    h = Math.imul(h, 0x01000193);
  }
  return h >>> 0;
}

/**
 * Ours and not a library’s: rehearsals, drills and the demo are kept by their seed, and the same seed must give the same
 * night for as long as they are kept. sfc32, a small fast counter-based generator by C. Doty-Humphrey (from memory).
 */
export function seeded(seed: number): Random {
  let a = 0x9e3779b9 ^ seed;
  let b = 0x243f6a88 ^ Math.imul(seed, 0x85ebca6b);
  let c = 0xb7e15162;
  let counter = 1;
  const bits = () => {
    const t = (((a + b) | 0) + counter) | 0;
    counter = (counter + 1) | 0;
    a = b ^ (b >>> 9);
    b = (c + (c << 3)) | 0;
    c = ((c << 21) | (c >>> 11)) + t;
    c |= 0;
    return t >>> 0;
  };
  for (let i = 0; i < 15; i++) bits();
  const next = () => bits() / 4294967296;
  return {
    next,
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
    exponential: (mean) => -mean * Math.log(1 - next()),
    fork: (label) => seeded(hash32(`${seed}/${label}`)),
  };
}
