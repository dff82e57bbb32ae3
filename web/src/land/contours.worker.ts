import { contoursOf, type ContourWish } from "./contourLines";

// Lines through millions of cells take a second: not on the thread that draws.
self.onmessage = ({ data }: MessageEvent<ContourWish>) => {
  self.postMessage({ number: data.number, lines: contoursOf(data) });
};
