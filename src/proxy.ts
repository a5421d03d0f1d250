import { NextResponse, type NextRequest } from "next/server";

/**
 * Gives every page a content security policy with a nonce of its own. Scripts, workers and audio modules come from this
 * server only and nothing is evaluated from text; style attributes are needed by positions that are computed.
 */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  // React's development build alone needs eval.
  const development = process.env.NODE_ENV === "development" ? " 'unsafe-eval'" : "";
  const policy = [
    "default-src 'self'",
    // The audio thread's loops are WebAssembly.
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${development}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    // A sample that is brought in says how long it is before it is unpacked.
    "media-src 'self' blob:",
    "connect-src 'self'",
    "worker-src 'self'",
    "object-src 'none'",
    "frame-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("Content-Security-Policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("Content-Security-Policy", policy);
  return response;
}

export const config = { matcher: ["/((?!_next/|api/|engine/|icon).*)"] };
