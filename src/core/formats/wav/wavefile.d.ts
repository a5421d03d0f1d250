/** The package's CommonJS file, the one that Node, Jest and the bundlers all load alike; its types name only the other. */
declare module "wavefile/dist/wavefile.js" {
  import type { WaveFile } from "wavefile";
  const wavefile: { readonly WaveFile: typeof WaveFile };
  export default wavefile;
}
