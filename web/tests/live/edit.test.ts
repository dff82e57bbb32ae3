import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Recipe } from "../../src/api/types";
import { FakeService, FakeSocket } from "./service";

const said: string[] = [];
let service: FakeService;

vi.mock("sonner", () => ({ toast: { error: (text: string) => said.push(text) } }));
vi.mock("../../src/live/people", () => ({ myName: () => "Ada" }));
vi.mock(import("../../src/api/client"), async (original) => {
  const api = {
    POST: (path: string, call: never) => service.api.POST(path, call),
    GET: () => service.api.GET(),
  };
  return { ...(await original()), api: api as never };
});

const { commit, preview, undo, redo } = await import("../../src/live/edit");
const { closeSession, openSession, useSession } = await import("../../src/live/session");

const RECIPE = { version: 8, name: "Land", sea_level_m: 0, strands: [] } as unknown as Recipe;
const rename = (name: string) => (draft: Recipe) => {
  draft.name = name;
};
const raiseSea = (draft: Recipe) => {
  draft.sea_level_m += 10;
};
const shown = () => {
  const { draft, head } = useSession.getState();
  return draft ?? head?.recipe;
};

beforeEach(async () => {
  vi.useFakeTimers();
  vi.stubGlobal("location", { protocol: "http:", host: "here" });
  vi.stubGlobal("WebSocket", FakeSocket);
  service = new FakeService(structuredClone(RECIPE));
  FakeSocket.service = service;
  said.length = 0;
  openSession("land");
  await vi.waitFor(() => expect(useSession.getState().head).not.toBeNull());
});

afterEach(() => {
  closeSession();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

describe("an edit", () => {
  it("is shown at once and kept once it is acknowledged", async () => {
    const kept = commit("Name", rename("Coast"));
    expect(shown()?.name).toBe("Coast");
    expect(useSession.getState().unsent).toBe(1);
    expect(await kept).toBe(true);
    expect(service.recipe.name).toBe("Coast");
    expect(useSession.getState()).toMatchObject({ draft: null, unsent: 0 });
  });

  it("goes after those before it, in order", async () => {
    const all = ["A", "B", "C"].map((name) => commit(name, rename(name)));
    expect(await Promise.all(all)).toEqual([true, true, true]);
    expect(service.came).toEqual(["A", "B", "C"]);
    expect(service.revisions.map((kept) => kept.recipe.name)).toEqual(["Land", "A", "B", "C"]);
  });

  it("is made anew on the head that somebody else has moved", async () => {
    const kept = commit("Sea", raiseSea);
    service.edit("Name", rename("Theirs"));
    expect(await kept).toBe(true);
    expect(service.recipe).toMatchObject({ name: "Theirs", sea_level_m: 10 });
    expect(shown()).toEqual(service.recipe);
    expect(said).toEqual([]);
  });

  it("is not lost while the service is away, and says so", async () => {
    service.fates = ["away", "away"];
    const kept = commit("Sea", raiseSea);
    await vi.advanceTimersByTimeAsync(100);
    expect(useSession.getState().away).toContain("database");
    expect(shown()?.sea_level_m).toBe(10);
    await vi.advanceTimersByTimeAsync(5000);
    expect(await kept).toBe(true);
    expect(service.recipe.sea_level_m).toBe(10);
    expect(useSession.getState().away).toBeNull();
  });

  it("is made once when its answer was lost", async () => {
    service.fates = ["answer lost"];
    const kept = commit("Sea", raiseSea);
    await vi.advanceTimersByTimeAsync(5000);
    expect(await kept).toBe(true);
    expect(service.revisions).toHaveLength(2);
    expect(shown()?.sea_level_m).toBe(10);
  });

  it("that is refused changes nothing, and the next one goes on", async () => {
    service.fates = [{ refused: "the sea is too high" }];
    const [refused, next] = [commit("Sea", raiseSea), commit("Name", rename("Coast"))];
    expect([await refused, await next]).toEqual([false, true]);
    expect(said).toEqual(["the sea is too high"]);
    expect(service.recipe).toMatchObject({ name: "Coast", sea_level_m: 0 });
    expect(shown()).toEqual(service.recipe);
  });

  it("of what is not there any more is refused in words", async () => {
    const kept = commit("Step", () => {
      throw new Error("no such step");
    });
    expect(await kept).toBe(false);
    expect(said).toEqual(["What this edit changes is not there any more."]);
    expect(service.came).toEqual([]);
  });

  it("that is dragged is previewed and not kept", async () => {
    preview(rename("Dragged"));
    expect(shown()?.name).toBe("Dragged");
    const previews = service.sockets[0]?.said.filter((message) => message.type === "preview");
    expect(previews).toHaveLength(1);
    expect(service.came).toEqual([]);
    await commit("Name", rename("Dropped"));
    expect(service.recipe.name).toBe("Dropped");
  });
});

describe("undo", () => {
  it("waits for the edits before it, and goes back as far as there are any", async () => {
    const edits = ["A", "B"].map((name) => commit(name, rename(name)));
    await undo();
    await Promise.all(edits);
    expect(shown()?.name).toBe("A");
    await undo();
    expect(shown()?.name).toBe("Land");
    await undo();
    expect(said).toEqual(["there is nothing to undo"]);
    await redo();
    await redo();
    expect(shown()?.name).toBe("B");
    expect(shown()).toEqual(service.recipe);
  });

  it("of a head that is moved meanwhile shows what the service has", async () => {
    await commit("A", rename("A"));
    service.edit("Sea", raiseSea);
    await undo();
    expect(shown()).toEqual(service.recipe);
    expect(shown()).toMatchObject({ name: "A", sea_level_m: 0 });
  });
});

describe("a move of the head", () => {
  it("that was missed has the whole asked for", async () => {
    const [socket] = service.sockets;
    service.sockets = [];
    service.edit("Unheard", rename("Unheard"));
    service.sockets = socket ? [socket] : [];
    service.edit("Heard", raiseSea);
    await vi.waitFor(() => expect(shown()).toEqual(service.recipe));
    expect(socket?.said.at(-1)).toEqual({ type: "whole" });
  });
});
