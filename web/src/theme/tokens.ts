import type { ThemeConfig } from 'antd'

/** Colours of the cutting room; the same names stand in theme.css. */
export const tokens = {
  paper: '#F7F2E8',
  card: '#FFFCF6',
  line: '#DED5C4',
  ink: '#22302E',
  quiet: '#66726E',
  spruce: '#1F5B52',
  saffron: '#D4931E',
  madder: '#A63A2C',
  plum: '#6B4A8C',
  slate: '#4A6C8C',
  ochre: '#8C6A1E',
  stage: '#E9E0D0',
  stageDark: '#3B403C',
} as const

export const antTheme: ThemeConfig = {
  token: {
    colorPrimary: tokens.spruce,
    colorInfo: tokens.slate,
    colorWarning: tokens.saffron,
    colorError: tokens.madder,
    colorSuccess: tokens.spruce,
    colorText: tokens.ink,
    colorTextSecondary: tokens.quiet,
    colorBgBase: tokens.card,
    colorBgLayout: tokens.paper,
    colorBorder: tokens.line,
    colorBorderSecondary: tokens.line,
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
    Slider: { railSize: 3, handleSize: 9, handleSizeHover: 10, railBg: tokens.line, trackBg: tokens.spruce, trackHoverBg: tokens.spruce },
    Button: { defaultShadow: 'none', primaryShadow: 'none', fontWeight: 600 },
    Select: { optionSelectedBg: 'rgba(31,91,82,.10)', optionActiveBg: 'rgba(31,91,82,.05)' },
    Tooltip: { colorBgSpotlight: tokens.ink },
  },
}
