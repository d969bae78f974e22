/** The dark hours, an object's hours, the pole. */
export const skyPhrases = {
  'sky.no-astronomical-darkness': 'It does not get astronomically dark this night.',
  'sky.no-nautical-darkness': 'It does not get nautically dark this night.',
  'sky.no-civil-darkness': 'It does not get civilly dark this night.',
  'sky.dark': '{darkHours:1-} dark hours, the Moon stays away.',
  'sky.dark-moon-up': '{darkHours:1-} dark hours, the Moon ({litPercent}) is up throughout.',
  'sky.dark-partly': '{darkHours:1-} dark hours, {moonlessHours:1-} of them without the Moon ({litPercent}).',
  'sky.too-low': 'Never above {limitDeg} here: {topDeg} at best.',
  'sky.behind-horizon': 'Never above {limitDeg} and the horizon while it is dark.',
  'sky.workable': '{workableHours} workable, {topDeg} at its highest.',
  'sky.year-never': 'Never an hour above its limit in the dark through these nights.',
  'sky.year': 'An hour or more on {able} of {total} nights.',
  'sky.year-next': 'The next best is {date}: {moonlessHours} without the Moon.',
  'sky.year-later': 'None without the Moon within {within} nights.',
  'sky.pole':
    '{star} stands at {clock} on the dial by eye, {clockInverted} in a polar scope that turns the image, {offArcmin} from the pole.',
  'sky.moon-down': 'The Moon is down: the sky there is {skyMag} a square arcsecond.',
  'sky.moonlight': 'The Moon brightens the sky there by {brighteningMag}, to {skyMag} a square arcsecond.',
} as const;
