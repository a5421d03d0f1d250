export { demoBeats } from "./demo-beats";
export { demoSamples } from "./demo-sounds";
export { demoEchoes } from "./demo-echoes";
