import pLimit from "p-limit";
import { useEffect, useRef } from "react";

/**
 * Pictures that may be asked for at once. A browser keeps six connections to a service;
 * pictures that are grown first would hold all of them, and a click would wait for land
 * that nobody asked for.
 */
const AT_ONCE = 2;

const inTurn = pLimit(AT_ONCE);

interface Props {
  src: string;
  className: string;
}

/** A picture that the service grows when it is asked for: in its turn, and once it is in view. */
export function GrownPicture({ src, className }: Props) {
  const image = useRef<HTMLImageElement>(null);
  useEffect(() => {
    const element = image.current;
    if (!element) return;
    let gone = false;
    let giveTurnBack = () => {};
    const load = () =>
      new Promise<void>((done) => {
        if (gone) return done();
        giveTurnBack = done;
        element.onload = element.onerror = () => done();
        // Set here, a picture that is asked for again is loaded again, and ends its turn.
        element.src = src;
      });
    const watch = new IntersectionObserver((seen) => {
      if (!seen.some(({ isIntersecting }) => isIntersecting)) return;
      watch.disconnect();
      void inTurn(load);
    });
    watch.observe(element);
    return () => {
      gone = true;
      watch.disconnect();
      giveTurnBack();
    };
  }, [src]);
  return <img ref={image} alt="" className={className} />;
}
