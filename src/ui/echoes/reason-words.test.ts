import { reasonsInWords } from "./reason-words";

test("what speaks for a reading is said with the beats as its meter counts them", () => {
  const said = (beats: number, unit: 4 | 8) =>
    reasonsInWords({ reasons: ["snareOnBacks", "crashOnDownbeat"], meter: { beats, unit }, perQuarter: 4 });
  expect(said(4, 4)).toBe("snare on 2 and 4, crash on 1");
  expect(said(3, 4)).toBe("snare on 2 and 3, crash on 1");
  expect(said(6, 8)).toBe("snare on 4, crash on 1");
  expect(reasonsInWords({ reasons: ["snareOnMiddle"], meter: { beats: 4, unit: 4 }, perQuarter: 3 })).toBe(
    "snare on 3",
  );
});
