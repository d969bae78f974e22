/** Words that say a train state aloud: a colour or stuff, and a creature. 48 × 48 pairs. */
const FIRST =
  'amber ash azure birch brass bronze cedar chalk clay cobalt copper coral crimson dune ebony elm fern flint frost garnet ginger granite hazel heather indigo ivory jade juniper larch linen maple marble mint moss ochre olive onyx opal pearl pine quartz rowan russet sable slate teal umber willow'.split(
    ' ',
  );
const SECOND =
  'badger bittern curlew dipper dove eider falcon finch fox gannet goose grebe gull hare harrier hawk heron ibis jackdaw kestrel kite lapwing lark linnet lynx magpie marten martin merlin newt nightjar otter owl petrel pipit plover puffin quail raven robin rook seal shrike siskin starling stork swift wren'.split(
    ' ',
  );

/** The word pair of a fingerprint, such as "amber-heron". */
export function wordPair(fingerprint: string): string {
  const a = Number.parseInt(fingerprint.slice(0, 8), 16);
  const b = Number.parseInt(fingerprint.slice(8, 16), 16);
  return `${FIRST[a % FIRST.length]}-${SECOND[b % SECOND.length]}`;
}
