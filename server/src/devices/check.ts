import { conformance } from './conformance.ts';

/** Tries a bridge for all the protocol asks of it: npm run devices:check -- http://127.0.0.1:7640 */
const [url] = process.argv.slice(2);
if (!url || !URL.canParse(url)) {
  process.stderr.write('Say where it is: npm run devices:check -- http://127.0.0.1:7640\n');
  process.exit(1);
}
process.stdout.write('This moves what it drives. Nobody in the way, nothing that can be hit, the roof open.\n');
const tried = await conformance(url, {
  told: ({ rule, ok, said }) =>
    void process.stdout.write(`${ok ? 'holds ' : 'BROKEN'}  ${rule}${said ? `: ${said}` : ''}\n`),
});
const broken = tried.filter((t) => !t.ok).length;
process.stdout.write(`rules ${tried.length}, broken ${broken}\n`);
process.exit(broken ? 1 : 0);
