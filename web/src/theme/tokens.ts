import { theme, type ThemeConfig } from 'antd'

/** Colours of the cutting room; the same names stand in theme.css. */
export const tokens = {
  paper: '#F7F2E8',
  card: '#FFFCF6',
  line: '#DED5C4',
  ink: '#22302E',
  quiet: '#5E6A66',
  spruce: '#1F5B52',
  saffron: '#D4931E',
  madder: '#A63A2C',
  plum: '#6B4A8C',
  slate: '#4A6C8C',
  ochre: '#8C6A1E',
  stage: '#E9E0D0',
  stageDark: '#3B403C',
} as const

/** What parts of the stage are drawn in stays; the room round it is turned down. */
const dark = {
  ...tokens,
  paper: '#242A28',
  card: '#2C3330',
  line: '#434D49',
  ink: '#ECE6DA',
  quiet: '#A9B4AE',
  spruce: '#7FC4B3',
  saffron: '#E6AE4A',
  madder: '#EC8B7C',
  plum: '#B79AD6',
  slate: '#93B6D6',
  ochre: '#D9B45F',
}

const themed = (colours: Record<keyof typeof tokens, string>, algorithm?: ThemeConfig['algorithm']): ThemeConfig => ({
  algorithm,
  token: {
    colorPrimary: colours.spruce,
    colorInfo: colours.slate,
    colorWarning: colours.saffron,
    colorError: colours.madder,
    colorSuccess: colours.spruce,
    colorText: colours.ink,
    colorTextSecondary: colours.quiet,
    colorTextPlaceholder: colours.quiet,
    colorBgBase: colours.card,
    colorBgLayout: colours.paper,
    colorBorder: colours.line,
    colorBorderSecondary: colours.line,
    borderRadius: 6,
    fontFamily: "'Hanken Grotesk Variable', sans-serif",
    fontFamilyCode: "'Spline Sans Mono', monospace",
    fontSize: 13,
    controlHeight: 30,
    boxShadow: '0 1px 3px rgba(34,48,46,.12)',
    boxShadowSecondary: '0 2px 10px rgba(34,48,46,.16)',
    wireframe: false,
    motionDurationMid: '0.12s',
  },
  components: {
    Slider: { railSize: 3, handleSize: 9, handleSizeHover: 10, railBg: colours.line, trackBg: colours.spruce, trackHoverBg: colours.spruce },
    Button: { defaultShadow: 'none', primaryShadow: 'none', primaryColor: colours.card, fontWeight: 600 },
    Select: { optionSelectedBg: 'rgba(31,91,82,.10)', optionActiveBg: 'rgba(31,91,82,.05)' },
    Tooltip: { colorBgSpotlight: tokens.ink },
  },
})

export const antThemes = { light: themed(tokens), dark: themed(dark, theme.darkAlgorithm) }
