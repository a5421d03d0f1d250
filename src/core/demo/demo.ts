export { demoBeats } from "./demo-beats";
export { demoEchoes } from "./demo-echoes";
