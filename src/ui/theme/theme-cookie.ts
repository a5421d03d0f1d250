export type Theme = "light" | "dark";
export const THEME_COOKIE = "theme";
