import { heightOf, type SmallPicture } from '@keen/core/frames';

/** How a small picture is shown. */
export interface Stretch {
  /** Height above the sky that is white, in units of the noise. */
  whiteSigma: number;
  /** For looking at several pictures alike: each height is this often the reference’s noise, and so much above its sky. */
  times: number;
  above: number;
}
const BLACK = -3;
const BEND = 2;

/** Brightness 0 to 255 of each tone. */
export function brightnessOf({ whiteSigma, times, above }: Stretch): Uint8ClampedArray {
  const top = Math.asinh((whiteSigma - BLACK) / BEND);
  return Uint8ClampedArray.from({ length: 256 }, (_, tone) => {
    const height = heightOf(tone) * times + above - BLACK;
    return height <= 0 ? 0 : (255 * Math.asinh(height / BEND)) / top;
  });
}

/** A kept small picture, read back into its tones; null where it cannot be. */
export async function smallPictureOf(url: string): Promise<SmallPicture | null> {
  try {
    const [head, body] = url.split(',') as [string, string];
    const bytes = Uint8Array.from(atob(body), (c) => c.charCodeAt(0));
    const image = await createImageBitmap(new Blob([bytes], { type: /data:([^;]+)/.exec(head)![1]! }));
    const canvas = document.createElement('canvas');
    [canvas.width, canvas.height] = [image.width, image.height];
    const context = canvas.getContext('2d', { willReadFrequently: true });
    if (!context) return null;
    context.drawImage(image, 0, 0);
    const { data } = context.getImageData(0, 0, canvas.width, canvas.height);
    const tones = new Uint8Array(canvas.width * canvas.height);
    for (let i = 0; i < tones.length; i++) tones[i] = data[4 * i]!;
    return { widthPx: canvas.width, heightPx: canvas.height, tones };
  } catch {
    return null;
  }
}
