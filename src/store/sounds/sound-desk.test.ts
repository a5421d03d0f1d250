import "fake-indexeddb/auto";
import type { KitPart, Pad, SampleSource } from "@/core/beat/beat";
import { newBeat } from "@/core/beat/new-beat";
import { padsOf } from "@/core/beat/lanes";
import { setPadSound } from "@/core/beat/edits/own-kit";
import { samplesIn } from "@/core/beat/samples/pad-samples";
import { KIT_IDS } from "@/core/instruments";
import { seededRandom } from "@/core/random";
import { derivedSounds } from "@/core/playback/part-sounds";
import { renderSound } from "@/core/sound/kits/render-sounds";
import type { Sound, SoundId } from "@/core/sound/signal/sound";
import { newRepository, openWorkspace } from "../../../tests/support/open-workspace";
import { until } from "../../../tests/support/until";
import { readBeatArchive, writeBeatArchive } from "@/core/formats/beat-archive";
import type { Repository } from "../persistence/repository";
import { Shelf } from "../shelf/shelf";
import type { DecodedAudio, Decoder } from "./decode-audio";
import { SoundDesk } from "./sound-desk";

const RATE = 48_000;
const TONE = (seconds = 0.2, level = 0.5) =>
  Float32Array.from({ length: Math.round(seconds * RATE) }, (_, frame) => level * Math.sin(frame / 20));

const audio = (...channels: readonly Float32Array[]): DecodedAudio => ({ sampleRate: RATE, channels });
/** A file whose bytes say which of these it is; the browser's own decoder is not here. */
const fileOf = (name: string, bytes: Uint8Array<ArrayBuffer> = Uint8Array.of(1)) => new File([bytes], name);

function deskOf(
  repository = newRepository(),
  decode: (bytes: Uint8Array) => DecodedAudio = () => audio(TONE()),
  more: Partial<Decoder> = {},
) {
  const asked: SoundId[] = [];
  const sound = (): Sound => ({
    layers: [[new Float32Array(8)]],
    velocities: [127],
    gainLeft: 1,
    gainRight: 1,
    chokeGroup: 0,
  });
  const opened = openWorkspace(repository, {
    beat: newBeat({ id: "b", name: "B", bpm: 125 }),
    render: async (ids, _, made) => {
      asked.push(...ids);
      ids.forEach((id) => made(id, sound()));
    },
    derive: async (id, { sampleRate, sounds }) => {
      const ids = samplesIn(opened.workspace.beat);
      return renderSound(id, sampleRate, await repository.samples.read(ids), sounds);
    },
  });
  const { workspace } = opened;
  const { store, document, playback, sounds } = workspace;
  const decoder: Decoder = {
    seconds: async () => undefined,
    decode: async (bytes) => decode(new Uint8Array(bytes)),
    ...more,
  };
  const desk = new SoundDesk(store, { document, playback, sounds, repository, decoder });
  const part = () => workspace.beat.parts[0] as KitPart;
  const pad = (at: number): Pad => part().pads[at]!;
  const source = (at: number) => pad(at).layers[0]!.source as SampleSource;
  return { ...opened, desk, part, pad, source, asked };
}

test("kits that are gone through are one step of undo; going back leaves none; hits stay on their roles", async () => {
  const { workspace, desk, part } = deskOf();
  const before = workspace.beat;
  desk.setKit("signalLamp", "browsing");
  desk.setKit("ropeAndCrate", "browsing");
  desk.setPad(3, { layers: [{ source: { kind: "drum", kit: "signalLamp", drum: "snare" } }] }, "Sound", "browsing");
  expect(part().pads.map(({ id, note, role }) => [id, note, role])).toEqual(
    (before.parts[0] as KitPart).pads.map(({ id, note, role }) => [id, note, role]),
  );
  expect(workspace.state.history.past).toHaveLength(1);
  desk.giveBack("browsing");
  expect(workspace.beat).toEqual(before);
  // What was done meanwhile is not taken back.
  workspace.mix.setTune(2, 5);
  const tuned = part();
  desk.setKit("signalLamp", "again");
  workspace.document.rename("Other");
  desk.setKit("ropeAndCrate", "again");
  desk.giveBack("again");
  expect([workspace.beat.name, part()]).toEqual(["Other", tuned]);
  desk.giveBack("again");
  expect(part()).toEqual(tuned);
});

test("all kits are made when somebody looks at them, and a lane keeps its old sound until the new one is there", async () => {
  const { workspace, desk, engine, asked } = deskOf();
  await workspace.sounds.attach(RATE);
  await desk.open();
  await until(() => KIT_IDS.every((kit) => asked.includes(`${kit}/kick`)));
  const told = () =>
    engine.orders.flatMap((one) =>
      one.type === "lanes" ? one.lanes.lanes[0]!.map(({ soundId, rate }) => `${soundId} ${rate}`) : [],
    );
  workspace.transport.play();
  desk.setKit("signalLamp");
  await until(() => told().at(-1) === "signalLamp/kick 1");
  // A tuned sound takes a while: at once it is the plain one, played faster; then the one that was made.
  workspace.mix.setTune(0, 12);
  expect(told().at(-1)).toBe("signalLamp/kick 2");
  await until(() => told().at(-1) === "signalLamp/kick@1200 1");
  // Of what is tuned on only the last one stays.
  for (const semitones of [3, 5, 7]) workspace.mix.setTune(0, semitones);
  await until(() => told().at(-1) === "signalLamp/kick@700 1");
  await until(() => Object.keys(workspace.sounds.bank!.sounds).filter((id) => id.includes("@")).length === 1);
});

test("the same file on sixteen pads is kept once, and several files go onto the pads in order", async () => {
  const { workspace, desk, source } = deskOf(newRepository(), (bytes) => audio(TONE(0.1 + bytes[0]! / 100)));
  await desk.bringIn(
    Array.from({ length: 16 }, (_, at) => fileOf(`${at}.wav`)),
    0,
  );
  expect(samplesIn(workspace.beat)).toHaveLength(1);
  expect(Array.from({ length: 16 }, (_, at) => source(at).name)).toEqual(
    Array.from({ length: 16 }, (_, at) => String(at)),
  );
  expect(workspace.state.history.past).toHaveLength(1);
  await desk.bringIn([fileOf("a.wav", Uint8Array.of(2)), fileOf("b.wav", Uint8Array.of(3))], 15);
  expect(source(15).name).toBe("a");
  expect(workspace.state.notice).toBe("b.wav: there is no pad left for it.");
  // A pad is called as its sample is, until it strikes a drum again.
  const nameOf = (pad: number) => padsOf(workspace.beat.parts[0]!)[pad]!.name;
  expect([0, 14, 15].map(nameOf)).toEqual(["0", "14", "a"]);
  workspace.document.edit(
    setPadSound(workspace.beat, 1, 0, { layers: [{ source: { kind: "drum", drum: "clap" } }] }),
    "Drum",
  );
  expect(nameOf(0)).toBe("Kick");
  // Also where all pads get another kit.
  desk.setKit("signalLamp");
  expect([14, 15].map(nameOf)).not.toContain("a");
});

test.each([
  ["two that are the same are one channel", audio(TONE(), TONE()), { channels: 1 }, ""],
  [
    "7.1",
    audio(...Array.from({ length: 8 }, (_, at) => TONE(0.1, (at + 1) / 10))),
    { channels: 2 },
    "of its 8 channels the first two are taken",
  ],
  ["too long", audio(TONE(62)), { endFrame: 60 * RATE }, "of its 62 s the first 60 are taken"],
  ["no numbers", audio(Float32Array.from([NaN, Infinity, 0.5, 0.2])), { channels: 1 }, ""],
] as const)("%s: taken as far as it goes, and said", async (_, decoded, expected, description) => {
  const { workspace, desk, source } = deskOf(newRepository(), () => decoded);
  await desk.bringIn([fileOf("x.wav")], 4);
  expect(source(4)).toMatchObject(expected);
  expect(workspace.state.notice).toContain(description);
});

test.each([
  ["empty", audio(new Float32Array(0)), {}, "It is empty."],
  ["silent", audio(new Float32Array(100)), {}, "It is silent."],
  ["half an hour", audio(TONE()), { seconds: async () => 1800 }, "It lasts 30 minutes; ten are the most."],
] as const)("%s: refused by name, and the pad keeps its sound", async (_, decoded, more, description) => {
  const { workspace, desk } = deskOf(newRepository(), () => decoded, more);
  const before = workspace.beat;
  await desk.bringIn([fileOf("x.wav")], 4);
  expect(workspace.beat).toBe(before);
  expect(workspace.state.notice).toBe(`x.wav: ${description} Low tom keeps its sound.`);
});

test("200 random and broken files leave the beat unharmed", async () => {
  const random = seededRandom(7);
  const { workspace, desk } = deskOf(newRepository(), (bytes) => {
    const kind = bytes[0]! % 5;
    if (kind === 0) throw new DOMException("Unable to decode audio data", "EncodingError");
    if (kind === 1) return audio();
    const length = bytes[1]! % 40;
    const side = () => Float32Array.from({ length }, () => [NaN, Infinity, 3, -0.2, 0][Math.floor(random() * 5)]!);
    return audio(...Array.from({ length: kind }, side));
  });
  for (let at = 0; at < 200; at++) {
    const bytes = Uint8Array.from({ length: 2 + Math.floor(random() * 30) }, () => Math.floor(random() * 256));
    await desk.bringIn([fileOf(`${at}.wav`, bytes)], Math.floor(random() * 16));
  }
  // It is a beat that can be written and read, with all samples that it strikes.
  const samples = await desk["deps"].repository.samples.files(samplesIn(workspace.beat));
  expect(Object.keys(samples)).toHaveLength(samplesIn(workspace.beat).length);
  const file = writeBeatArchive({ beat: workspace.beat, samples });
  expect(readBeatArchive(typeof file === "string" ? new TextEncoder().encode(file) : file).beat).toEqual(
    workspace.beat,
  );
});

test("a pad that a kit does not have keeps its sound, whatever kit the part has then", async () => {
  const { desk, part } = deskOf();
  desk.setKit("signalLamp");
  const [kick] = part().pads;
  const { layers, note, name, mix } = kick!;
  await desk.setOwnKit({
    name: "One",
    pads: [{ layers: [{ source: { kind: "drum", drum: "kick", kit: "deckhouse" } }], note, name, mix }],
  });
  expect(layers).toHaveLength(1);
  expect(part().kitId).toBe("deckhouse");
  expect(part().pads[1]!.layers).toEqual([{ source: { kind: "drum", drum: "snare", kit: "signalLamp" } }]);
});

test("a layer whose sample is missing keeps no other one waiting", async () => {
  const { workspace, desk, engine } = deskOf();
  await workspace.sounds.attach(RATE);
  workspace.transport.play();
  const cut = { name: "Gone", channels: 1, startFrame: 0, endFrame: 9, fadeMs: 1, gainDb: 0 } as const;
  const gone = { kind: "sample", sampleId: "0".repeat(32), ...cut } as const;
  desk.setPad(0, { layers: [{ source: { kind: "drum", drum: "snare" } }, { source: gone }] }, "Layers");
  const struck = () => {
    const order = engine.orders.findLast((one) => one.type === "lanes");
    return order?.type === "lanes" ? order.lanes.lanes[0]!.map(({ soundId }) => soundId) : [];
  };
  await until(() => struck()[0] === "deckhouse/snare");
  expect(workspace.state.notice).toContain("its sample is not in this browser");
});

test("a full store is said, and the pad keeps its old sound", async () => {
  const repository = newRepository();
  const { workspace, desk } = deskOf(repository);
  const before = workspace.beat;
  jest.spyOn(repository.samples, "put").mockResolvedValue(false);
  await desk.bringIn([fileOf("x.wav")], 0);
  expect(workspace.beat).toBe(before);
  expect(workspace.state.notice).toBe("x.wav: The browser’s store has no room for it. Kick keeps its sound.");
});

test("sixty-four samples are the most that a beat has, however they come", async () => {
  let next = 0;
  const { workspace, desk, part } = deskOf(newRepository(), () => audio(TONE(0.01, 0.1 + ++next / 200)));
  const cut = { name: "Other", channels: 1, startFrame: 0, endFrame: 9, fadeMs: 1, gainDb: 0 } as const;
  const other = (at: number) => ({ kind: "sample", sampleId: String(at).padStart(32, "0"), ...cut }) as const;
  for (let pad = 0; pad < 15; pad++)
    desk.setPad(pad, { layers: [0, 1, 2, 3].map((layer) => ({ source: other(4 * pad + layer) })) }, "Layers");
  desk.setPad(15, { layers: [60, 61, 62].map((at) => ({ source: other(at) })) }, "Layers");
  workspace.parts.addKit();
  await desk.bringIn([fileOf("one.wav"), fileOf("more.wav")], 0);
  expect(samplesIn(workspace.beat)).toHaveLength(64);
  expect(workspace.state.notice).toBe("more.wav: A beat has 64 samples at the most. Snare keeps its sound.");
  const full = workspace.beat;
  desk.setPad(1, { layers: [{ source: other(99) }] }, "Layers");
  expect(workspace.beat).toBe(full);
  expect(workspace.state.notice).toContain("64 samples at the most");
  expect(part().pads).toHaveLength(16);
});

test("exported and imported in another browser all samples sound; they are cleared when nothing uses them", async () => {
  const repository = newRepository();
  const { workspace, desk } = deskOf(repository);
  await desk.bringIn([fileOf("x.wav")], 0);
  const [id] = samplesIn(workspace.beat) as [string];
  const file = writeBeatArchive({
    beat: workspace.beat,
    samples: await repository.samples.files([id]),
  }) as Uint8Array<ArrayBuffer>;
  const other = newRepository();
  const shelf = new Shelf(other, () => "copy");
  await shelf.importFiles([new File([file], "b.zip")]);
  expect(shelf.store.getState().notice).toMatchObject({ kind: "done", details: [] });
  const { records } = await other.list();
  const beat = records.find(({ beat: { name } }) => name === "B")!.beat;
  expect(samplesIn(beat)).toEqual([id]);
  const [sound] = derivedSounds(beat.parts[0]!);
  expect(renderSound(sound!, RATE, await other.samples.read([id])).layers[0]![0]!.length).toBe(9600);
  // The beat alone, without its samples, says what is missing.
  const bare = new Shelf(newRepository(), () => "bare");
  await bare.importFiles([new File([writeBeatArchive({ beat, samples: {} })], "b.json")]);
  expect(bare.store.getState().notice!.details).toEqual([
    "b.json, left out: 1 of its 1 samples, whose pads are silent",
  ]);
  await clearLater(other, async () => {
    expect(await other.samples.clearUnused()).toBe(0);
    await other.beats.remove(records.find(({ beat: { name } }) => name === "B")!.id);
    expect(await other.samples.clearUnused()).toBe(1);
    expect(Object.keys(await other.samples.files([id]))).toEqual([]);
  });
});

test("a kit of one's own has its pads' sounds, levels and samples; it can be renamed, taken along and brought back", async () => {
  const repository = newRepository();
  const { workspace, desk, part } = deskOf(repository);
  await desk.bringIn([fileOf("x.wav")], 0);
  workspace.mix.setTune(1, -3);
  workspace.mix.setPad(2, { levelDb: -6 });
  const kept = part().pads;
  const keeping = desk.keepKit("Mine");
  // Hands don't wait for the store.
  desk.setKit("ropeAndCrate");
  await keeping;
  const [kit] = workspace.state.ownKits;
  await desk.setOwnKit(kit!);
  const sounds = (pads: KitPart["pads"]) =>
    pads.map(({ layers, tuneSemitones, mix }) => [
      layers.map(({ source }) => ({ kit: "deckhouse", ...source })),
      tuneSemitones,
      mix,
    ]);
  expect(sounds(part().pads)).toEqual(sounds(kept));
  expect(part().kitName).toBe("Mine");
  await desk.renameKit(kit!, "Ours");
  expect(workspace.state.ownKits.map(({ name }) => name)).toEqual(["Ours"]);
  const file = (await desk.kitFile(workspace.state.ownKits[0]!)) as Uint8Array<ArrayBuffer>;
  const there = deskOf(newRepository());
  await there.desk.takeKitFile(new File([file], "ours.zip"));
  expect(there.workspace.state.ownKits).toEqual(workspace.state.ownKits);
  expect(await there.desk.sample(samplesIn(workspace.beat)[0]!)).toBeDefined();
  // The same file once more is another kit: none is lost.
  await there.desk.takeKitFile(new File([file], "ours.zip"));
  expect(there.workspace.state.ownKits.map(({ name }) => name)).toEqual(["Ours", "Ours 2"]);
  await there.desk.takeKitFile(new File(["{}"], "bad.json"));
  expect(there.workspace.state.notice).toMatch(/^bad\.json: This kit file can't be read/);
  await desk.removeKit(workspace.state.ownKits[0]!);
  expect(workspace.state.ownKits).toEqual([]);
  await desk.bringKitBack();
  expect(workspace.state.ownKits.map(({ name }) => name)).toEqual(["Ours"]);
});

/** As if it were tomorrow: what is new may be on its way into a beat. */
async function clearLater(repository: Repository, work: () => Promise<void>): Promise<void> {
  const tomorrow = Date.now() + 24 * 3600_000;
  const table = repository.samples as unknown as { now: () => number };
  const { now } = table;
  table.now = () => tomorrow;
  await work().finally(() => (table.now = now));
}
