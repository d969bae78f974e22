export { BOOK, type Code, type NameCode } from './book/index.ts';
export { inReadersUnit, quantityText, readersFigure, unitOf } from './units.ts';
export { say, wanted, type Book, type Phrase, type PhraseValue, type PlainPhrase } from './say.ts';
export { sentences, words } from './words.ts';
export { isNameCode, makeVerdict, nameOf, phrase } from './verdict.ts';
