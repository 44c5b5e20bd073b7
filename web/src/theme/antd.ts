import { theme, type ThemeConfig } from "antd";
import type { Scheme } from "./scheme";

const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();
const pixels = (name: string) => Number.parseFloat(token(name));

/** Ant Design's theme, read from the tokens of the scheme that is on the document now. */
export function antTheme(scheme: Scheme): ThemeConfig {
  return {
    algorithm: scheme === "dark" ? [theme.darkAlgorithm, theme.compactAlgorithm] : theme.compactAlgorithm,
    token: {
      colorPrimary: token("accent"),
      colorInfo: token("accent"),
      colorLink: token("accent"),
      colorError: token("stop"),
      colorWarning: token("caution"),
      colorTextBase: token("ink"),
      colorTextSecondary: token("muted"),
      colorTextDescription: token("muted"),
      colorTextPlaceholder: token("muted"),
      colorBgBase: token("paper"),
      colorBgContainer: token("sheet"),
      colorBgElevated: token("raised"),
      colorBorder: token("line-strong"),
      colorBorderSecondary: token("line"),
      colorTextLightSolid: token("on-accent"),
      borderRadius: pixels("radius"),
      fontFamily: token("sans"),
      fontSize: pixels("text"),
      motion: !window.matchMedia("(prefers-reduced-motion: reduce)").matches,
      motionDurationMid: "0.12s",
      motionDurationSlow: "0.16s",
    },
    components: {
      Segmented: { itemSelectedBg: token("accent-soft"), itemSelectedColor: token("ink"), trackBg: token("wall"), itemColor: token("ink") },
      Select: { optionSelectedBg: token("accent-soft"), optionSelectedColor: token("ink") },
    },
  };
}
