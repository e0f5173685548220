import { createTheme, type MantineColorsTuple } from "@mantine/core";

const slate: MantineColorsTuple = [
  "#eef3f3",
  "#d9e3e4",
  "#b3c6c8",
  "#8aa7ab",
  "#688c91",
  "#4c757b",
  "#365f66",
  "#294c53",
  "#1f3b41",
  "#1b2f34",
];

const brass: MantineColorsTuple = [
  "#fdf5e2",
  "#f8e7bf",
  "#f2d592",
  "#edc467",
  "#e9b13b",
  "#d39c28",
  "#b07f17",
  "#8a620c",
  "#6c4c07",
  "#4e3603",
];

export const theme = createTheme({
  fontFamily: "Barlow, system-ui, sans-serif",
  headings: { fontFamily: "'Barlow Condensed', 'Barlow', system-ui, sans-serif", fontWeight: "600" },
  colors: { slate, brass },
  primaryColor: "slate",
  primaryShade: { light: 7, dark: 5 },
  defaultRadius: 2,
  cursorType: "pointer",
  respectReducedMotion: true,
  components: {
    Modal: { defaultProps: { closeButtonProps: { "aria-label": "Close" }, attributes: { header: { role: "none" } } } },
    Notification: { defaultProps: { closeButtonProps: { "aria-label": "Close" } } },
    Drawer: { defaultProps: { closeButtonProps: { "aria-label": "Close" }, attributes: { header: { role: "none" } } } },
  },
  fontSizes: { xs: "0.8rem", sm: "0.92rem", md: "1rem", lg: "1.15rem", xl: "1.35rem" },
});
