/** Who gets which hours, and when a project is finished. */
export const seasonPhrases = {
  'absences.no-calendar': 'This is no calendar: an .ics file begins with BEGIN:VCALENDAR.',
  'absences.too-long': 'This calendar is longer than {most} letters: export fewer months.',
  'absences.too-many': 'This calendar has more than {most} events: export fewer months.',
  'absences.cut-event': 'The event “{title}” recurs too often to be followed: export it from a later day on.',
  'absences.broken-event': 'The event “{title}” does not say when it is.',
  'season.bookings-next': 'Your next hours: {night}, {from}–{until}, {rig}{object}.',
  'season.bookings-none': 'You have no hours booked or promised in the coming nights.',
  'season.bookings-waiting': '{waiting} of yours {waiting|waits|wait} for hours that somebody has.',
  'season.bookings-asked': '{asked} {asked|booking waits|bookings wait} for a steward’s word.',
  'season.bookings-unplanned': 'Tonight’s hours have no plan yet.',
  'season.ledger':
    'Since {month}: {promisedHours} promised, over or to come, {takenHours} with the shutter open, {countedHours} counted, {cloudedHours} lost to cloud.',
  'season.ledger-empty': 'Nobody asked for hours or exposed anything since {month}.',
  'season.rule-open': 'Hours go to whom they are worth most; there are no shares.',
  'season.rule-fair':
    'Everybody comes to the same hours: those that counted in the last {fairDays} {fairDays|day|days} and those to come, as far as each can use theirs; an hour lost to cloud does not count as had.',
  'season.rule-fair-cloud':
    'Everybody comes to the same hours: those that counted in the last {fairDays} {fairDays|day|days} and those to come, as far as each can use theirs; an hour lost to cloud counts {cloudPercent} as had.',
  'season.nothing-needed': 'Nothing is needed any more.',
  'season.forecast':
    'Finished within {nights} {nights|night|nights}: {percent} of 100; as likely as not by night {half}.',
  'season.forecast-late': 'Finished within {nights} {nights|night|nights}: {percent} of 100.',
  'season.allocated':
    '{slots} of {of} {of|slot|slots} given, {minutes} min; {gain:1} more than taking the best piece first.',
  'season.allocated-as-greedy':
    '{slots} of {of} {of|slot|slots} given, {minutes} min; taking the best piece first gives as much.',
  'season.cut-short': 'The search was cut short after {seconds} s: up to {openPercent:2} more may be possible.',
  'season.cut-short-unknown': 'The search was cut short after {seconds} s; how much more may be possible is not known.',
  'season.finish-done': 'it has all it wants.',
  'season.never-up': 'it is never up for an hour in the next twelve months.',
  'season.never-before': 'it is not up for an hour before the night until which it is of use.',
  'season.finish':
    'at {clearNights:0} clear nights a month by {likely}, as likely as not; between {early} and {late} in 80 of 100.',
  'season.finish-open':
    'at {clearNights:0} clear nights a month by {likely}, as likely as not; in {percent} of 100 this season.',
  'season.finish-late': 'at {clearNights:0} clear nights a month in {percent} of 100 this season.',
  'season.up-until': 'it is up for an hour or more a night until {last}.',
  'season.up-again': 'it is up for an hour or more a night from {first} to {last}.',
  'season.board': '{given} of {of} {of|slot|slots} given: {expectedHours:0} to be expected.',
  'season.board-finishing': '{done} of {projects} {projects|project|projects} more likely finished by then than not.',
  'season.board-better': 'That is worth {gainPercent:1} more than taking the best piece first.',
  'season.board-proven': 'No other way is worth more than {openPercent:1} more.',
  'season.board-as-good': 'Taking the best piece first would be worth as much.',
  'season.board-no-slots': 'There are no hours to give: it does not get dark, or all of them are planned.',
  'season.why-train': 'the train is not the one its framing was pinned for',
  'season.why-met': 'has all it needs',
  'season.why-nowhere': 'there is no slot in which it may be taken',
  'season.why-maximum': '{member} has reached the most they may have: {maxMinutes:0} min',
  'season.why-remainder': 'what it still needs is shorter than any slot it could have',
  'season.why-block': 'the free slots it could have make no run of {slots}',
  'season.why-switch': 'another slot would cost more in changes than it is worth',
  'season.why-worthless': 'the free slots it could have are worth nothing to it',
  'season.why-all': 'has every slot it could have',
  'season.why-others': 'the other slots it could have went to {projects}',
  'season.why-open': 'another slot would add {gain:1} to the whole: so much the search leaves open',
} as const;
