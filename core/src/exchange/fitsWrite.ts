/** A value of a card, with what it means. */
export type WrittenCard = readonly [key: string, value: string | number | boolean, comment?: string];

const BLOCK = 2880;
const CARD = 80;

function card([key, value, comment]: WrittenCard): string {
  const text =
    typeof value === 'string'
      ? `'${value.replace(/'/g, "''").padEnd(8)}'`.padEnd(20)
      : (typeof value === 'boolean' ? (value ? 'T' : 'F') : numberText(value)).padStart(20);
  const line = `${key.padEnd(8)}= ${text}${comment ? ` / ${comment}` : ''}`;
  return line.slice(0, CARD).padEnd(CARD);
}
const numberText = (v: number) => (Number.isInteger(v) ? String(v) : String(v).toUpperCase());

/** Sum of 32-bit words with the carry brought around; FITS Standard 4.0 (2018), §4.4.2.7 and appendix J. */
export function onesComplementSum(bytes: Uint8Array, start = 0): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let sum = start;
  for (let at = 0; at < bytes.length; at += 4) {
    sum += view.getUint32(at);
    if (sum > 0xffffffff) sum -= 0xffffffff;
  }
  return sum;
}

/** The sixteen letters that stand for a checksum, from its complement: four bytes of each word, none of them punctuation. */
function checksumText(sum: number): string {
  const value = 0xffffffff - sum;
  const letters = new Uint8Array(16);
  for (let byte = 0; byte < 4; byte++) {
    const all = (value >>> (24 - 8 * byte)) & 0xff;
    const quarter = Math.floor(all / 4) + 48;
    const four = [quarter + (all % 4), quarter, quarter, quarter];
    const isPunctuation = (c: number) => (c >= 0x3a && c <= 0x40) || (c >= 0x5b && c <= 0x60);
    for (let again = true; again;) {
      again = false;
      for (const j of [0, 2])
        if (isPunctuation(four[j]!) || isPunctuation(four[j + 1]!)) {
          four[j]!++;
          four[j + 1]!--;
          again = true;
        }
    }
    four.forEach((c, j) => (letters[4 * j + byte] = c));
  }
  const text = String.fromCharCode(...letters);
  return text.slice(-1) + text.slice(0, -1);
}

/**
 * A picture of unsigned 16-bit counts as a FITS file, stored as BITPIX 16 with BZERO 32768, with CHECKSUM and DATASUM.
 * Source: FITS Standard 4.0 (2018), §4.4.1, §5.2.5, appendix J.
 * @param counts row by row, the first row the bottom one
 * @param cards further ones, behind those the form needs; keys of eight letters at most
 */
export function writeFits16(
  counts: Uint16Array,
  widthPx: number,
  heightPx: number,
  cards: readonly WrittenCard[],
): Uint8Array<ArrayBuffer> {
  const data = new Uint8Array(Math.ceil((2 * counts.length) / BLOCK) * BLOCK);
  const view = new DataView(data.buffer);
  for (let k = 0; k < counts.length; k++) view.setInt16(2 * k, counts[k]! - 32768);
  const dataSum = onesComplementSum(data);
  const all: WrittenCard[] = [
    ['SIMPLE', true, 'FITS Standard 4.0'],
    ['BITPIX', 16],
    ['NAXIS', 2],
    ['NAXIS1', widthPx],
    ['NAXIS2', heightPx],
    ['BZERO', 32768, 'unsigned 16-bit counts'],
    ['BSCALE', 1],
    ...cards,
    ['DATASUM', String(dataSum), 'sum of the data'],
  ];
  const headerOf = (checksum: string) => {
    const text =
      [...all, ['CHECKSUM', checksum, 'sum of this part is zero'] as WrittenCard].map(card).join('') +
      'END'.padEnd(CARD);
    return new TextEncoder().encode(text.padEnd(Math.ceil(text.length / BLOCK) * BLOCK));
  };
  const header = headerOf(checksumText(onesComplementSum(headerOf('0'.repeat(16)), dataSum)));
  const file = new Uint8Array(header.length + data.length);
  file.set(header);
  file.set(data, header.length);
  return file;
}
