import type { NextConfig } from "next";

/** Isolation gives `performance.now()` its fine resolution, which the time of a hit depends on. */
const securityHeaders = [
  { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
  { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
  { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
  { key: "X-Content-Type-Options", value: "nosniff" },
  { key: "X-Frame-Options", value: "DENY" },
  { key: "Referrer-Policy", value: "no-referrer" },
  { key: "Permissions-Policy", value: "camera=(), microphone=(), geolocation=(), midi=(self)" },
];

const bareFile = {
  key: "Content-Security-Policy",
  value:
    "default-src 'none'; script-src 'wasm-unsafe-eval'; style-src 'unsafe-inline'; connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
};

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
    { source: "/:path*", headers: securityHeaders },
    // Pages get a policy of their own, each with its nonce; what is no page needs next to nothing.
    ...["/api/:path*", "/engine/:path*", "/icon.svg", "/_next/:path*"].map((source) => ({
      source,
      headers: [bareFile],
    })),
  ],
};

export default config;
