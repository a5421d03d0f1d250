"use client";

import { useState } from "react";
import { MoonStars } from "../icons/generated/moon-stars";
import { Sun } from "../icons/generated/sun";
import { THEME_COOKIE, type Theme } from "./theme-cookie";

/** Paper or stage. The cookie lets the server send the page in its theme, so that a dark stage never flashes white. */
export function ThemeToggle({ initial }: { readonly initial: Theme }) {
  const [theme, setTheme] = useState(initial);
  const next = theme === "light" ? "dark" : "light";
  const change = () => {
    document.documentElement.dataset.bsTheme = next;
    document.cookie = `${THEME_COOKIE}=${next}; path=/; max-age=31536000; SameSite=Strict`;
    setTheme(next);
  };
  return (
    <button type="button" className="btn" onClick={change} aria-label={next === "dark" ? "Stage theme" : "Paper theme"}>
      {next === "dark" ? <MoonStars aria-hidden /> : <Sun aria-hidden />}
    </button>
  );
}
