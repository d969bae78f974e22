export { BOOK, type Code } from './book/index.ts';
export { inReadersUnit, quantityText, readersFigure, unitOf } from './units.ts';
export { say, wanted, type Book, type Phrase, type PhraseValue, type PlainPhrase } from './say.ts';
export { sentences, words } from './words.ts';
export { makeVerdict, phrase } from './verdict.ts';
