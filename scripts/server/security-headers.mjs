/** Isolation gives `performance.now()` its fine resolution, which the time of a hit depends on. */
export const SECURITY_HEADERS = [
  { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
  { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
  { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
  { key: "X-Content-Type-Options", value: "nosniff" },
  { key: "X-Frame-Options", value: "DENY" },
  { key: "Referrer-Policy", value: "no-referrer" },
  { key: "Permissions-Policy", value: "camera=(), microphone=(), geolocation=(), midi=(self)" },
];

/** The policy of what is no page: next to nothing. Workers compile the loops over samples. */
export const BARE_POLICY = {
  key: "Content-Security-Policy",
  value:
    "default-src 'none'; script-src 'wasm-unsafe-eval'; style-src 'unsafe-inline'; connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'",
};
