import { listenToHeldKeys } from "./held-keys";

const key = (type: string, code: string) => Object.assign(new Event(type), { code });

test("a key ends once: when it comes up, or when the window loses the keyboard, and no more when nobody listens", () => {
  const target = new EventTarget() as Window;
  const ended: string[] = [];
  const undo = listenToHeldKeys(
    target,
    ({ code }) => (code === "Nothing" ? undefined : code),
    (code) => ended.push(code),
  );
  for (const code of ["A", "B", "Nothing"]) target.dispatchEvent(key("keydown", code));
  target.dispatchEvent(key("keyup", "A"));
  expect(ended).toEqual(["A"]);
  target.dispatchEvent(new Event("blur"));
  expect(ended).toEqual(["A", "B"]);
  target.dispatchEvent(key("keyup", "B"));
  target.dispatchEvent(new Event("blur"));
  undo();
  target.dispatchEvent(key("keydown", "C"));
  target.dispatchEvent(new Event("blur"));
  expect(ended).toEqual(["A", "B"]);
});
