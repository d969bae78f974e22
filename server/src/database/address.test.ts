import { expect, test } from '@jest/globals';
import { databaseAddress } from './address.ts';

const one = { user: 'keen', password: 'p', name: 'keen' };
test.each<[string, ReturnType<typeof databaseAddress>]>([
  ['mariadb://keen:p@127.0.0.1:33061/keen', { ...one, hosts: [{ host: '127.0.0.1', port: 33_061 }] }],
  ['mysql://keen:p@db/keen', { ...one, hosts: [{ host: 'db', port: 3306 }] }],
  [
    'mariadb://keen:p@a:1,b.example,10.0.0.3:65535/keen',
    {
      ...one,
      hosts: [
        { host: 'a', port: 1 },
        { host: 'b.example', port: 3306 },
        { host: '10.0.0.3', port: 65_535 },
      ],
    },
  ],
  ['mariadb://keen:p@[::1]:3307/keen', { ...one, hosts: [{ host: '::1', port: 3307 }] }],
  [
    'mariadb://k%40n:a%3Ab%2F@h/keen',
    { user: 'k@n', password: 'a:b/', name: 'keen', hosts: [{ host: 'h', port: 3306 }] },
  ],
  ['mariadb://keen:with:colon@h/keen', { ...one, password: 'with:colon', hosts: [{ host: 'h', port: 3306 }] }],
  ['mariadb://keen@h/keen', { ...one, password: '', hosts: [{ host: 'h', port: 3306 }] }],
  ['mariadb//keen:p@h/keen', null],
  ['postgres://keen:p@h/keen', null],
  ['mariadb://keen:p@h:3306', null],
  ['mariadb://keen:p@h:3306/', null],
  ['mariadb://keen:p@h:0/keen', null],
  ['mariadb://keen:p@h:65536/keen', null],
  ['mariadb://keen:p@h:port/keen', null],
  ['mariadb://keen:p@a,,b/keen', null],
  ['mariadb://keen:p@a b/keen', null],
  ['mariadb://keen:p@h/keen?ssl=1', null],
  ['mariadb://keen:%zz@h/keen', null],
  ['', null],
])('%s', (url, is) => {
  expect(databaseAddress(url)).toEqual(is);
});
