import "@fontsource-variable/instrument-sans";
import "@fontsource-variable/spline-sans-mono";
import type { Metadata, Viewport } from "next";
import type { ReactNode } from "react";
import { KeepOfflineCopy } from "@/ui/offline/keep-offline-copy";
import { readTheme } from "@/ui/theme/read-theme";
import "@/ui/theme/theme.scss";

export const metadata: Metadata = {
  title: "Echo Pocket",
  description: "Build drum and groove patterns: loop, overdub, correct, keep.",
};

export const viewport: Viewport = { width: "device-width", initialScale: 1, themeColor: "#f6f1e7" };

export default async function RootLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en" data-bs-theme={await readTheme()}>
      <body>
        {children}
        <KeepOfflineCopy />
      </body>
    </html>
  );
}
