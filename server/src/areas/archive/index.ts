export { ArchiveTrouble, readArchive, type ReadIn } from './read.ts';
