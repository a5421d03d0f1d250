/** @jest-environment jsdom */
import { act, fireEvent, render, screen } from "@testing-library/react";
import { ErrorBoundary } from "react-error-boundary";
import { demoBeat } from "@/core/demo/demo-beats";
import { writeBeatFile } from "@/core/formats/beat-file";
import { download } from "../common/download";
import { RescuePage } from "./rescue-page";

jest.mock("../common/download", () => ({ download: jest.fn(), fileNameOf: (name: string) => name }));

function Broken(): never {
  throw new Error("a part that cannot be drawn");
}

test("when drawing fails, the page says so and gives the whole beat as a file", async () => {
  const beat = demoBeat("Tide Table");
  jest.spyOn(console, "error").mockImplementation(() => {});
  render(
    <ErrorBoundary fallbackRender={({ error }) => <RescuePage beat={beat} error={error} />}>
      <Broken />
    </ErrorBoundary>,
  );
  expect(screen.getByRole("alert").textContent).toContain("a part that cannot be drawn");
  fireEvent.click(screen.getByRole("button", { name: "Save the beat" }));
  await act(() => new Promise((done) => setTimeout(done, 300)));
  expect(download).toHaveBeenCalledWith(writeBeatFile(beat), "Tide Table.json", "application/json");
});
