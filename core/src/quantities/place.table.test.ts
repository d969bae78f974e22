import { describe, expect, test } from '@jest/globals';
import { parseCoordinate, parsePlace } from './place.ts';

const GRAZ = [47.07, 15.44] as const;
const SOUTH = [-(33 + 52 / 60 + 10 / 3600), 151 + 12 / 60 + 30 / 3600] as const;
const WEST = [-(22 + 57 / 60), -(43 + 10 / 60)] as const;
const DMS = [47 + 4 / 60 + 12 / 3600, 15 + 26 / 60 + 24 / 3600] as const;
const DM = [47 + 4.2 / 60, 15 + 26.4 / 60] as const;

/** What a person types, and where it is; null: it is asked for again. */
const PLACES: [string, readonly [number, number] | null][] = [
  ...[
    '47.07, 15.44',
    '47.07,15.44',
    '47.07 15.44',
    '47.07;15.44',
    '47.07 ; 15.44',
    '(47.07, 15.44)',
    '[47.07, 15.44]',
    'lat 47.07 lon 15.44',
    'lat: 47.07, lon: 15.44',
    'lat=47.07 lon=15.44',
    'latitude 47.07 longitude 15.44',
    'lon 15.44 lat 47.07',
    '47,07 15,44',
    '47,07; 15,44',
    '47,07, 15,44',
    '47,07;15,44',
    '+47.07, +15.44',
    '+47.07+15.44',
    '+47.07 +15.44',
    '47.07° N, 15.44° E',
    '47.07°N 15.44°E',
    '47.07N 15.44E',
    '47.07 N, 15.44 E',
    'N 47.07 E 15.44',
    'N47.07 E15.44',
    'N47.07°, E15.44°',
    '15.44 E 47.07 N',
    'E 15.44, N 47.07',
    '47.07 n 15.44 e',
    '47.07 north, 15.44 east',
    '47.07°, 15.44°',
    '47.07 deg, 15.44 deg',
    '47,07° N 15,44° E',
    '47,07 N, 15,44 E',
    '47.07000, 15.44000',
    'geo:47.07,15.44',
    'geo:47.07,15.44;u=20',
    'https://maps.example/?q=47.07,15.44',
    'https://maps.example/?q=47.07,+15.44',
    'https://maps.example/?q=47.07%2C15.44',
    '?q=47.07,+15.44',
    'https://maps.example/@47.07,15.44,12z',
    'https://maps.example/?ll=47.07,15.44',
    'https://maps.example/?mlat=47.07&mlon=15.44',
    'https://maps.example/#map=12/47.07/15.44',
    'lng 15.44 lat 47.07',
  ].map((t): [string, readonly [number, number]] => [t, GRAZ]),
  ...[
    '33 52 10 S 151 12 30 E',
    "33°52'10 S 151°12'30 E",
    '33°52′10″ S 151°12′30″ E',
    '33°52\'10"S, 151°12\'30"E',
    'S 33 52 10 E 151 12 30',
    '33:52:10 S 151:12:30 E',
    '33d52m10s S 151d12m30s E',
    "33° 52' 10'' S, 151° 12' 30'' E",
    '33 52 10 S, 151 12 30 E',
    '-33 52 10, 151 12 30',
    '-33:52:10 151:12:30',
    '-33°52′10″ 151°12′30″',
    '33 52 10 s 151 12 30 e',
    '151 12 30 E 33 52 10 S',
    '33D52M10S S 151D12M30S E',
    "33°52'10”S 151°12'30”E",
    '−33 52 10, 151 12 30',
  ].map((t): [string, readonly [number, number]] => [t, SOUTH]),
  ...[
    '22 57 0 S 43 10 0 W',
    '22 57 S 43 10 W',
    "22°57' S 43°10' W",
    '-22 57, -43 10',
    'S22 57 W43 10',
    '43 10 W 22 57 S',
  ].map((t): [string, readonly [number, number]] => [t, WEST]),
  ...[
    '47d04m12s N 15d26m24s E',
    '47:04:12 N 15:26:24 E',
    '47°04′12″ N 15°26′24″ E',
    '47°04\'12"N 15°26\'24"E',
    '47 04 12 N 15 26 24 E',
    '47 04 12, 15 26 24',
    '47 04 12 15 26 24',
    'N47°04′12″ E15°26′24″',
    '47°4′12″N, 15°26′24″E',
    '47 deg 4 min 12 sec N, 15 deg 26 min 24 sec E',
    '47:04:12, 15:26:24',
    '15d26m24s E 47d04m12s N',
    '47d04m12s, 15d26m24s',
    '47°04′12″, 15°26′24″',
  ].map((t): [string, readonly [number, number]] => [t, DMS]),
  ...[
    '47 04.2 N 15 26.4 E',
    "47°04.2' N, 15°26.4' E",
    'N 47 04.2 E 015 26.4',
    '47:04.2 N 15:26.4 E',
    '47 04.2, 15 26.4',
    'N47°04.2′ E15°26.4′',
  ].map((t): [string, readonly [number, number]] => [t, DM]),
  ['-30.5, -70.8', [-30.5, -70.8]],
  ['30.5 S, 70.8 W', [-30.5, -70.8]],
  ['30.5S 70.8W', [-30.5, -70.8]],
  ['-30.5 -70.8', [-30.5, -70.8]],
  ['-30.5,-70.8', [-30.5, -70.8]],
  ['-30,5; -70,8', [-30.5, -70.8]],
  ['0, 0', [0, 0]],
  ['0.5, -0.5', [0.5, -0.5]],
  ['-33.87 151.21', [-33.87, 151.21]],
  ['−33.87\t151.21', [-33.87, 151.21]],
  ['+47.07 15.44', [47.07, 15.44]],
  ['-33 52 10 151 12 30', SOUTH],
  ['-22 57 43 10', [-(22 + 57 / 60), 43 + 10 / 60]],
  ['47, 7', [47, 7]],
  ['47 7', [47, 7]],
  ['90, 180', [90, 180]],
  ['-90, -180', [-90, -180]],
  ...[
    '-33.87 151.21 350',
    '- 33.87',
    '',
    '47,07',
    '47,7',
    '47.07',
    '47.07.5',
    '47.07.5, 15',
    '1544',
    '1544, 47',
    '-30.5 S, -70.8 W',
    '-30.5 S, 70.8 W',
    '47.07 N, 15.44 N',
    '47.07 E, 15.44 W',
    '91, 15',
    '47, 181',
    '47 60 0 N 15 0 0 E',
    '47 4 60 N 15 0 0 E',
    '47.5 4 N 15 2 E',
    'Graz',
    'somewhere north',
    '47 04 12 N',
    '47, 15, 300',
    '47 4 12 15 26',
    'N 47 S 15',
    '47..07, 15',
    '47°04°12 N 15°26°24 E',
    '47x07, 15x44',
    '33U 533000 5213000',
    '--47, 15',
    'lat 47 lat 15',
    '47.07,, 15.44',
    '12345 67890',
    '4704.2N 01526.4E',
    'nan, nan',
    '47e1, 15e1',
    '0x2f, 0xf',
  ].map((t): [string, null] => [t, null]),
];

describe('a place', () => {
  test.each(PLACES)('%s', (typed, at) => {
    const got = parsePlace(typed);
    if (at === null) expect([typed, got]).toEqual([typed, { ok: false, message: expect.any(String) }]);
    else {
      expect(got).toMatchObject({ ok: true });
      if (!got.ok) return;
      expect(got.place.latitudeDeg).toBeCloseTo(at[0], 9);
      expect(got.place.longitudeDeg).toBeCloseTo(at[1], 9);
    }
  });
  test('whatever place is written in whatever form comes back', () => {
    const two = (n: number) => String(n).padStart(2, '0');
    for (let k = 0; k < 300; k++) {
      const [d, m, s] = [(k * 7) % 90, (k * 13) % 60, (k * 29) % 60];
      const [e, n, t] = [(k * 11) % 180, (k * 17) % 60, (k * 31) % 60];
      const [ns, ew] = [k % 2 ? 'S' : 'N', k % 3 ? 'E' : 'W'];
      const lat = (k % 2 ? -1 : 1) * (d + m / 60 + s / 3600);
      const lon = (k % 3 ? 1 : -1) * (e + n / 60 + t / 3600);
      const forms = [
        `${d}°${m}′${s}″ ${ns} ${e}°${n}′${t}″ ${ew}`,
        `${d} ${two(m)} ${two(s)} ${ns} ${e} ${two(n)} ${two(t)} ${ew}`,
        `${d}:${two(m)}:${two(s)} ${ns}, ${e}:${two(n)}:${two(t)} ${ew}`,
        `${ns}${d}d${m}m${s}s ${ew}${e}d${n}m${t}s`,
        `${ew} ${e} ${n} ${t}, ${ns} ${d} ${m} ${s}`,
        `${lat.toFixed(8)}, ${lon.toFixed(8)}`,
        `${Math.abs(lat).toFixed(8)}${ns} ${Math.abs(lon).toFixed(8)}${ew}`,
      ];
      for (const form of forms) {
        const got = parsePlace(form);
        expect([form, got.ok && got.place.latitudeDeg.toFixed(6), got.ok && got.place.longitudeDeg.toFixed(6)]).toEqual(
          [form, lat.toFixed(6), lon.toFixed(6)],
        );
      }
    }
  });
});

describe('one of its angles', () => {
  test.each([
    ['47.07', 'latitude', 47.07],
    ['47,07', 'latitude', 47.07],
    ['47°04′12″ N', 'latitude', DMS[0]],
    ['33 52 10 S', 'latitude', SOUTH[0]],
    ['-33 52 10', 'latitude', SOUTH[0]],
    ['43 10 W', 'longitude', WEST[1]],
    ['15:26:24 E', 'longitude', DMS[1]],
    ['N 47.07', 'latitude', 47.07],
    ['15.44 E', 'longitude', 15.44],
    ['1544', 'longitude', null],
    ['47.07.5', 'latitude', null],
    ['15 E', 'latitude', null],
    ['47 N', 'longitude', null],
    ['91', 'latitude', null],
    ['-15 E', 'longitude', null],
    ['', 'latitude', null],
    ['47, 15', 'latitude', null],
  ] as const)('%s as %s', (typed, kind, deg) => {
    const got = parseCoordinate(typed, kind);
    if (deg === null) expect([typed, got.ok]).toEqual([typed, false]);
    else expect(got.ok && got.deg).toBeCloseTo(deg, 9);
  });
});
