import type { NextConfig } from "next";
import { BARE_POLICY, SECURITY_HEADERS } from "./scripts/server/security-headers.mjs";

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  // Its threads are started by the names of its files.
  serverExternalPackages: ["piscina"],
  // The same library without what only old browsers need.
  turbopack: { resolveAlias: { dexie: "dexie/dist/modern/dexie.min.mjs" } },
  // `npm test` checks the types by themselves; once more with every build would only take time.
  typescript: { ignoreBuildErrors: true },
  sassOptions: { quietDeps: true, silenceDeprecations: ["import", "global-builtin", "color-functions", "if-function"] },
  headers: async () => [
    { source: "/:path*", headers: SECURITY_HEADERS },
    // Pages get a policy of their own, each with its nonce; what is no page needs next to nothing.
    ...["/api/:path*", "/engine/:path*", "/icon.svg", "/_next/:path*"].map((source) => ({
      source,
      headers: [BARE_POLICY],
    })),
  ],
};

export default config;
