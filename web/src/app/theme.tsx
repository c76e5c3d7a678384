// Our look on Ant Design's behaviour: paper, ink, hairlines, one accent.

import { ConfigProvider, type ThemeConfig } from "antd";
import { type ReactNode, useEffect } from "react";
import { keptChoice, useChoice } from "./choice";

export const themeChoice = keptChoice("theme", preferred(), ["light", "dark"]);

function preferred(): "light" | "dark" {
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

// Who changes the whole computer's theme, or lets it follow the sun, means this page too.
matchMedia("(prefers-color-scheme: dark)").addEventListener("change", () =>
  themeChoice.setState({ value: preferred() }),
);

export const PALETTES = {
  light: {
    paper: "#FAF7F0",
    sheet: "#FFFFFF",
    ink: "#1D2129",
    soft: "#5B6270",
    hairline: "#E3DCCB",
    amber: "#F2A516",
    amberText: "#8F5200",
    teal: "#0F6B73",
    plum: "#7D3C7A",
  },
  dark: {
    paper: "#14171C",
    sheet: "#1D2129",
    ink: "#EFE9DC",
    soft: "#A9ADB5",
    hairline: "#363C46",
    amber: "#F2A516",
    amberText: "#F5B649",
    teal: "#63BFC6",
    plum: "#CF93CB",
  },
} as const;

export type Palette = { [K in keyof (typeof PALETTES)["light"]]: string };

function tokens(palette: Palette): ThemeConfig {
  return {
    token: {
      colorPrimary: palette.amber,
      // The ring around what has the focus, as in look.css.
      colorPrimaryBorder: palette.amberText,
      controlOutline: palette.amberText,
      colorInfo: palette.teal,
      colorLink: palette.amberText,
      colorLinkHover: palette.ink,
      colorTextBase: palette.ink,
      colorBgBase: palette.sheet,
      colorBgContainer: palette.sheet,
      colorBgElevated: palette.sheet,
      colorBorder: palette.soft,
      colorBorderSecondary: palette.hairline,
      colorTextLightSolid: "#1D2129",
      colorTextPlaceholder: palette.soft,
      colorError: palette.plum,
      borderRadius: 0,
      borderRadiusLG: 0,
      borderRadiusSM: 0,
      boxShadow: "none",
      boxShadowSecondary: "none",
      controlHeight: 44,
      controlHeightSM: 36,
      controlOutlineWidth: 2,
      fontFamily: '"Source Sans 3 Variable", "Source Sans 3", sans-serif',
      fontSize: 16,
      motionDurationMid: "0.1s",
      motionDurationSlow: "0.12s",
      wireframe: false,
    },
    components: {
      Button: {
        fontWeight: 600,
        primaryShadow: "none",
        defaultShadow: "none",
        defaultBorderColor: palette.ink,
        defaultHoverColor: palette.ink,
        defaultHoverBorderColor: palette.amber,
        defaultActiveColor: palette.ink,
        defaultActiveBorderColor: palette.amber,
      },
      Slider: {
        railSize: 4,
        handleSize: 16,
        handleSizeHover: 18,
        railBg: palette.hairline,
        railHoverBg: palette.hairline,
        trackBg: palette.amber,
        trackHoverBg: palette.amber,
        handleColor: palette.ink,
        handleActiveColor: palette.ink,
        handleActiveOutlineColor: palette.amber,
        dotActiveBorderColor: palette.ink,
      },
      Modal: { titleFontSize: 20 },
      Input: { activeBorderColor: palette.amberText },
      InputNumber: { activeBorderColor: palette.amberText },
      DatePicker: { activeBorderColor: palette.amberText },
      Select: {
        activeBorderColor: palette.amberText,
        activeOutlineColor: palette.amberText,
        optionSelectedBg: palette.hairline,
        optionSelectedColor: palette.ink,
      },
    },
  };
}

export function useTheme(): { name: "light" | "dark"; palette: Palette } {
  const [name] = useChoice(themeChoice);
  return { name, palette: PALETTES[name] };
}

export function ThemeProvider({ children }: { children: ReactNode }) {
  const { name, palette } = useTheme();
  useEffect(() => {
    document.documentElement.dataset.theme = name;
  }, [name]);
  return (
    <ConfigProvider
      theme={tokens(palette)}
      wave={{ disabled: true }}
      button={{ autoInsertSpace: false }}
    >
      {children}
    </ConfigProvider>
  );
}
