export { AbsenceNights, isAbsent, readAbsences, type ReadAbsences } from './absences.ts';
