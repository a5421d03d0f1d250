import { expose } from "comlink";
import { renderService } from "./render-service";
import { SoundShelf } from "./sound-shelf";

expose(renderService(new SoundShelf()));
