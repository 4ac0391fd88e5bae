import { createTheme, type CSSVariablesResolver, type MantineColorsTuple } from '@mantine/core';

const verdigris: MantineColorsTuple = ['#eef6f3', '#dcebe6', '#b7d8cf', '#8cc2b5', '#63ab9c', '#3f9486', '#2a8477', '#1c766c', '#135f57', '#0b4741'];
const brick: MantineColorsTuple = ['#fbf0ee', '#f3dcd8', '#e6b8b1', '#d89086', '#cb6c60', '#bd5245', '#b04438', '#a43b2d', '#863024', '#65241b'];
const ochre: MantineColorsTuple = ['#fbf5ea', '#f3e6cd', '#e7cd9c', '#dab268', '#cd9a40', '#bd8526', '#b2781a', '#a86b12', '#88560e', '#654009'];

export const theme = createTheme({
  primaryColor: 'verdigris',
  primaryShade: { light: 7, dark: 7 },
  autoContrast: true,
  colors: { verdigris, brick, ochre },
  fontFamily: "'Instrument Sans Variable', sans-serif",
  fontFamilyMonospace: "'JetBrains Mono Variable', monospace",
  headings: { fontFamily: "'Instrument Sans Variable', sans-serif", fontWeight: '650' },
  defaultRadius: 'md',
  fontSizes: { xs: '11.5px', sm: '13px', md: '14px', lg: '16px', xl: '20px' },
  respectReducedMotion: true,
  components: { Notification: { defaultProps: { closeButtonProps: { 'aria-label': 'Dismiss' } } } },
});

/** The product's own surfaces and inks; `look.md` names the light ones. */
export const cssVariables: CSSVariablesResolver = () => ({
  variables: {},
  light: {
    '--paper': '#f5f2ea',
    '--panel': '#fcfbf8',
    '--line': '#e0d9cb',
    '--ink': '#22303a',
    '--soft-ink': '#5d6a72',
    '--accent': '#1c766c',
    '--accent-soft': '#dcebe6',
    '--accent-strong': '#135f57',
    '--warn': '#8f5a0d',
    '--fail': '#a43b2d',
    '--cutting': '#b4173f',
    '--tool-body': '#59626b',
    '--grid': '#ebe5d8',
    '--stage-high': '#ffffff',
    '--stage-low': '#ece7db',
    '--mantine-color-body': '#f5f2ea',
    '--mantine-color-text': '#22303a',
    '--mantine-color-dimmed': '#5d6a72',
    '--mantine-color-default': '#fcfbf8',
    '--mantine-color-default-border': '#d8d0c0',
  },
  dark: {
    '--paper': '#161c21',
    '--panel': '#1c242a',
    '--line': '#323d45',
    '--ink': '#e4e8e6',
    '--soft-ink': '#9aa8ae',
    '--accent': '#63ab9c',
    '--accent-soft': '#1f3a37',
    '--accent-strong': '#8cc2b5',
    '--warn': '#dab268',
    '--fail': '#e58b7e',
    '--cutting': '#e0486c',
    '--tool-body': '#8d98a1',
    '--grid': '#242d34',
    '--stage-high': '#2b353d',
    '--stage-low': '#171e23',
    '--mantine-color-body': '#161c21',
    '--mantine-color-text': '#e4e8e6',
    '--mantine-color-dimmed': '#9aa8ae',
    '--mantine-color-default': '#1c242a',
    '--mantine-color-default-border': '#3b474f',
  },
});
