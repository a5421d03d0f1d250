/**
 * The JSON Schemas that files and stored rows are checked with, and the program's own types, say the same: where one of the two
 * changes without the other, this does not compile. Ranges are not compared; tests of files look after those.
 */
import type { Beat } from "@/core/beat/beat";
import type { Groove } from "@/core/beat/feel";
import type { KeptPass } from "@/core/beat/edits/kept-pass";
import type { OwnKit } from "@/core/beat/edits/own-kit";
import type { LookbackHit } from "@/core/recover/echo";
import type { DeviceProfile } from "@/inputs/device-profile";
import type { EchoMarkRecord, StepRecord } from "@/store/persistence/rows/rows";
import type { Settings } from "@/store/settings";
import type { Root as BeatFile } from "./generated/beat";
import type { Root as EchoMark } from "./generated/echo-mark";
import type { Root as GrooveFile } from "./generated/groove";
import type { Root as Journal } from "./generated/journal";
import type { Root as KitFile } from "./generated/kit";
import type { Root as Lookback } from "./generated/lookback";
import type { Root as Profile } from "./generated/profile";
import type { Root as StoredSettings } from "./generated/settings";
import type { Root as Step } from "./generated/step";

/** A name that a schema leaves open says nothing. */
type IsOpen<T, K extends keyof T> = string extends K ? (unknown extends T[K] ? true : false) : false;

/** The comparable shape of a type: its members, which of them may be missing, and their shapes. */
type Shape<T> = T extends { readonly __unit: string }
  ? number
  : T extends string | number | boolean | null | undefined
    ? T
    : T extends readonly (infer Item)[]
      ? Shape<Item>[]
      : string extends keyof T
        ? unknown extends T[string & keyof T]
          ? Members<T>
          : { readonly byName: Shape<T[string & keyof T]> }
        : number extends keyof T
          ? { readonly byName: Shape<T[number & keyof T]> }
          : Members<T>;

type Members<T> = {
  readonly [K in keyof T as IsOpen<T, K> extends true ? never : K]-?: object extends Pick<T, K>
    ? { readonly maybe: Shape<Exclude<T[K], undefined>> }
    : { readonly always: Shape<T[K]> };
};

type Same<A, B> = [Shape<A>] extends [Shape<B>] ? ([Shape<B>] extends [Shape<A>] ? true : "more in the second") : false;

const same = <A, B>(_: Same<A, B>) => undefined;

same<Beat, BeatFile["beat"]>(true);
same<Groove, GrooveFile["groove"]>(true);
same<OwnKit, KitFile["kit"]>(true);
same<StepRecord, Step>(true);
same<EchoMarkRecord, EchoMark>(true);
// Not every program has written all of them.
same<Partial<Settings>, StoredSettings>(true);
same<Partial<DeviceProfile> & Pick<DeviceProfile, "device">, Profile>(true);
same<LookbackHit, Lookback[number]>(true);
same<KeptPass["pass"], Journal[number]["pass"]>(true);
