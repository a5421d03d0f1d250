import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import sirv from "sirv";
import { BARE_POLICY, SECURITY_HEADERS } from "./security-headers.mjs";

/** Folder of a build's compressed files. */
export const SERVED = "build/served";

/** Names of these files change with what is in them. */
const LASTING = "/_next/static/";

/**
 * Serves the compressed files of a build.
 * @param buildId the build that is served
 * @returns answers a request and says whether it has; undefined where the files are of another build, or none
 */
export function servedFiles(buildId, folder = SERVED) {
  const id = join(folder, "BUILD_ID");
  if (!existsSync(id) || readFileSync(id, "utf8") !== buildId) return undefined;
  const serve = sirv(folder, {
    brotli: true,
    gzip: true,
    etag: true,
    setHeaders: (response, path) => {
      for (const { key, value } of [...SECURITY_HEADERS, BARE_POLICY]) response.setHeader(key, value);
      const age = path.startsWith(LASTING) ? "max-age=31536000, immutable" : "max-age=0";
      response.setHeader("Cache-Control", `public, ${age}`);
    },
  });
  return (request, response) => {
    const isFile = /^\/(_next\/static|engine)\//.test(request.url) && /^(GET|HEAD)$/.test(request.method);
    let isAnswered = isFile;
    if (isFile) serve(request, response, () => (isAnswered = false));
    return isAnswered;
  };
}
