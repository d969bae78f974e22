import { theme } from 'ant-design-vue';
import type { Light } from './lights.ts';

const PALETTE = {
  day: {
    bg: '#F4EFE6',
    surface: '#FCFAF5',
    line: '#D6CDBD',
    ink: '#20252B',
    ink2: '#555B62',
    accent: '#7D5A10',
    good: '#2C6638',
    caution: '#865300',
    bad: '#A03126',
    on: '#FFFAF0',
  },
  night: {
    bg: '#161B21',
    surface: '#1E252D',
    line: '#35404B',
    ink: '#E9E4D9',
    ink2: '#A8AFB6',
    accent: '#D6AA52',
    good: '#86C08A',
    caution: '#E3B25A',
    bad: '#EF8F7D',
    on: '#14181D',
  },
  'dark-adapted': {
    bg: '#050000',
    surface: '#0E0101',
    line: '#5A130B',
    ink: '#F0402A',
    ink2: '#D8412E',
    accent: '#FF5A40',
    good: '#F0402A',
    caution: '#F0402A',
    bad: '#FF6A50',
    on: '#000000',
  },
} as const;

/** What the toolkit makes paler under the pointer: eyes that are adapted to the dark see no shade but the light's own. */
const UNDER_POINTER = ['Primary', 'Info', 'Success', 'Warning', 'Error', 'Link'].flatMap((of) =>
  ['Hover', 'Active', 'BorderHover', 'TextHover', 'TextActive'].map((as) => `color${of}${as}`),
);

/** Ant Design Vue's theme for a light: our colours, compact, radius 4. */
export function antTheme(light: Light) {
  const c = PALETTE[light];
  return {
    algorithm: light === 'day' ? [theme.compactAlgorithm] : [theme.darkAlgorithm, theme.compactAlgorithm],
    token: {
      borderRadius: 4,
      // the compact algorithm takes the next smaller size of each: 14 px text, 32 px controls
      fontSize: 16,
      controlHeight: 36,
      fontFamily: 'var(--text-font)',
      colorPrimary: c.accent,
      colorInfo: c.accent,
      colorLink: c.accent,
      colorSuccess: c.good,
      colorWarning: c.caution,
      colorError: c.bad,
      colorText: c.ink,
      colorTextSecondary: c.ink2,
      colorTextTertiary: c.ink2,
      colorTextQuaternary: c.ink2,
      colorTextPlaceholder: c.ink2,
      colorTextDescription: c.ink2,
      colorTextHeading: c.ink,
      colorTextLightSolid: c.on,
      // ticks of checkboxes, handles of switches
      colorWhite: c.on,
      colorIcon: c.ink2,
      colorBgBase: c.bg,
      colorBgLayout: c.bg,
      colorBgContainer: c.surface,
      colorBgElevated: c.surface,
      colorBorder: c.line,
      colorBorderSecondary: c.line,
      colorSplit: c.line,
      // flat buttons; focus is shown by the page's own outline
      controlOutline: 'transparent',
      controlTmpOutline: 'transparent',
      wireframe: false,
      boxShadow: 'none',
      boxShadowSecondary: `0 0 0 1px ${c.line}`,
      ...(light === 'dark-adapted' ? Object.fromEntries(UNDER_POINTER.map((token) => [token, c.accent])) : {}),
    },
  };
}
