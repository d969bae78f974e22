#!/usr/bin/python3
"""
The same work as frames.measure by a compiled source extractor (Debian's python3-sep and python3-astropy): sky and noise
in tiles, objects above three times the noise, half flux radius of the hundred brightest clean ones of nine cells, shape
from moments. Prints seconds, for comparison on the same picture and machine:
    bench/extract.py picture.fits
"""
import sys
import time

import numpy as np
import sep
from astropy.io import fits

begun = time.perf_counter()
with fits.open(sys.argv[1], memmap=False) as f:
    data = f[0].data.astype(np.float32)
read = time.perf_counter()
sky = sep.Background(data, bw=64, bh=64, fw=3, fh=3)
data -= sky.back()
sep.set_extract_pixstack(3_000_000)
objects = sep.extract(data, 3.0, err=sky.globalrms, minarea=5, filter_kernel=None, deblend_cont=1.0)
h, w = data.shape
bright = objects[(objects['peak'] > 10 * sky.globalrms) & (objects['flag'] == 0)]
cell = (3 * bright['y'] / h).astype(int) * 3 + (3 * bright['x'] / w).astype(int)
used = np.concatenate([np.argsort(-bright['flux'] * (cell == c))[: min(100, int((cell == c).sum()))] for c in range(9)])
stars = bright[used]
radius, _ = sep.flux_radius(data, stars['x'], stars['y'], np.full(len(stars), 8.0), 0.5, subpix=5)
shape = np.sqrt(1 - (stars['b'] / stars['a']) ** 2)
done = time.perf_counter()
print(f'{len(objects)} objects, {len(stars)} measured, HFD {2 * np.median(radius):.3f} px, eccentricity {np.median(shape):.3f}, '
      f'noise {sky.globalrms:.2f}; read {read - begun:.2f} s, measured {done - read:.2f} s, together {done - begun:.2f} s')
