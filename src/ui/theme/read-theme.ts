import { cookies } from "next/headers";
import { THEME_COOKIE, type Theme } from "./theme-cookie";

/** The theme the browser last chose. */
export async function readTheme(): Promise<Theme> {
  const cookie = (await cookies()).get(THEME_COOKIE);
  return cookie?.value === "dark" ? "dark" : "light";
}
