/** How often it is looked whether a frame is drawn, milliseconds. */
const POLL_MS = 8;

/** Calls `then` once all that was ordered so far is drawn, without waiting. */
export function whenDrawn(context: WebGL2RenderingContext, then: () => void) {
  const fence = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0);
  if (!fence) return;
  context.flush();
  const look = () => {
    // A lost context never draws.
    if (context.isContextLost()) return;
    if (context.getSyncParameter(fence, context.SYNC_STATUS) !== context.SIGNALED) {
      setTimeout(look, POLL_MS);
      return;
    }
    context.deleteSync(fence);
    then();
  };
  setTimeout(look, POLL_MS);
}
