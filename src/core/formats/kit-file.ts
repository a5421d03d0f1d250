import type { OwnKit } from "../beat/edits/own-kit";
import { CoreError } from "../core-error";
import { MAX_FILE_BYTES } from "../limits";
import { isArchive, readArchive, writeArchive, type SampleFiles } from "./archive";
import { describeProblem } from "./describe-problem";
import validate from "./generated/kit-validator";
import { layerProblems } from "./layer-problems";
import { parseJson } from "./parse-json";

const KIT_FILE_FORMAT = "echo-pocket-kit";
const KIT_NAME = "kit.json";

export interface KitWithSamples {
  readonly kit: OwnKit;
  readonly samples: SampleFiles;
}

/** A kit file: JSON as docs/schema/kit.schema.json describes it, or a ZIP file of kit.json and samples. */
export function writeKitFile({ kit, samples }: KitWithSamples): string | Uint8Array<ArrayBuffer> {
  const text = JSON.stringify({ format: KIT_FILE_FORMAT, version: 1, kit }, null, 1);
  return Object.keys(samples).length === 0 ? text : writeArchive(KIT_NAME, text, samples);
}

/**
 * The inverse of writeKitFile, for bytes from anywhere.
 * @throws CoreError "too-large" over 10 MB of text, or over what samples may have; "bad-kit" with what is wrong and where
 */
export function readKitFile(bytes: Uint8Array): KitWithSamples {
  const { text, samples } = isArchive(bytes)
    ? readArchive(bytes, KIT_NAME)
    : { text: new TextDecoder().decode(bytes), samples: {} };
  if (text.length > MAX_FILE_BYTES) throw new CoreError("too-large", "This file is larger than 10 MB.");
  return { kit: checkKitFile(parseJson(text, "bad-kit", "kit file")), samples };
}

/** Checks a kit from anywhere else, such as the browser's store. @throws CoreError "bad-kit" with what is wrong and where */
export function checkKit(kit: unknown): OwnKit {
  return checkKitFile({ format: KIT_FILE_FORMAT, version: 1, kit });
}

function checkKitFile(data: unknown): OwnKit {
  const right = validate(data);
  const { kit } = data as { kit: OwnKit };
  const problems = right ? [...layerProblems(kit.pads, "/kit")] : (validate.errors ?? []).map(describeProblem);
  if (problems.length > 0) throw new CoreError("bad-kit", `This kit file can't be read: ${problems[0]}.`, problems);
  return kit;
}
