import { Canvas, useFrame, useThree, type ThreeEvent } from "@react-three/fiber";
import { useEffect, useRef } from "react";
import type { Mesh } from "three";
import { described, sizeOf, type Picture } from "../live/picture";
import { useSession } from "../live/session";
import { changeView, useView, type Place } from "../studio/view";
import { clicked, dragged, lifted, pressed, pressOf, takesDrags } from "../tools/handlers";
import { useInHand } from "../tools/tool";
import { FIRST_POSE } from "./pose";
import { BrushRing } from "./scene/BrushRing";
import { CourseLine } from "./scene/CourseLine";
import { FlyControls } from "./scene/FlyControls";
import { groundAt } from "./scene/groundAt";
import { LandMesh } from "./scene/LandMesh";
import { LensCamera } from "./scene/LensCamera";
import { OpenSea } from "./scene/OpenSea";
import { Sky } from "./scene/Sky";
import { WalkControls } from "./scene/WalkControls";

/** The land in three dimensions, under light that the service baked. */
export function Relief({ picture }: { picture: Picture }) {
  const haze = useView((view) => view.haze);
  const standing = useView((view) => view.standing);
  return (
    <Canvas
      frameloop="demand"
      dpr={1}
      flat
      linear
      gl={{ antialias: true, powerPreference: "low-power", preserveDrawingBuffer: true }}
      data-testid="relief"
      role="img"
      aria-label={`Relief. ${described(picture)}`}
    >
      <LensCamera at={FIRST_POSE} />
      {haze && <Sky />}
      {haze && standing && <OpenSea picture={picture} />}
      <Land picture={picture} />
      {standing ? <WalkControls picture={picture} /> : <FlyControls picture={picture} />}
    </Canvas>
  );
}

/** The land, and what the pointer does on it. */
function Land({ picture }: { picture: Picture }) {
  const exaggeration = useView((view) => view.exaggeration);
  const pointer = useView((view) => view.pointer);
  const people = useSession((state) => state.people);
  const brush = useInHand("brush")?.brush;
  const course = useInHand("course");
  const invalidate = useThree((state) => state.invalidate);
  // Whoever left is not drawn any more.
  useEffect(() => invalidate(), [people, invalidate]);
  const placeOf = (event: ThreeEvent<MouseEvent>) => {
    const { width, depth } = sizeOf(picture);
    const { x, z } = event.point;
    return { x: (x + 0.5) * width, y: picture.header.north_m - (z * width + depth / 2) };
  };
  const press = (event: ThreeEvent<PointerEvent>) => pressOf(placeOf(event), event.nativeEvent);
  return (
    <>
      <LandMesh
        picture={picture}
        onPointerMove={(event) => {
          changeView({ pointer: placeOf(event) });
          // Without a tool that takes them, drags turn the land.
          if (event.buttons === 1 && takesDrags()) dragged(press(event));
        }}
        onPointerDown={(event) => pressed(press(event))}
        onPointerUp={lifted}
        onClick={(event) => {
          // A drag turns the camera; only a click on the spot is meant.
          if (event.delta <= 2) clicked(placeOf(event), picture);
        }}
        onPointerLeave={() => changeView({ pointer: null })}
      />
      {pointer && <Mark {...{ picture, exaggeration }} place={pointer} colour="#ffffff" />}
      {course && (
        <CourseLine
          {...{ picture, exaggeration }}
          points={course.points}
          smooth={course.smooth ?? false}
        />
      )}
      {course?.points.map((place, k) => (
        <Mark key={k} {...{ picture, exaggeration, place }} colour="#ffb020" />
      ))}
      {pointer && brush && <BrushRing {...{ picture, exaggeration, brush }} at={pointer} />}
      {people.map(
        ({ id, at }) =>
          at && (
            <Mark
              key={id}
              {...{ picture, exaggeration }}
              place={{ x: at[0] ?? 0, y: at[1] ?? 0 }}
              colour="#ffb020"
            />
          ),
      )}
    </>
  );
}

interface MarkProps {
  picture: Picture;
  exaggeration: number;
  place: Place;
  colour: string;
}

/** A place: of the cursor, the same in relief, plan and section, or where others look. */
function Mark({ picture, exaggeration, place: pointer, colour }: MarkProps) {
  const invalidate = useThree((state) => state.invalidate);
  const mark = useRef<Mesh>(null);
  useEffect(() => invalidate(), [pointer, invalidate]);
  useFrame(({ camera }) => {
    // As large on the screen wherever it is.
    const size = mark.current?.position.distanceTo(camera.position);
    if (size !== undefined) mark.current?.scale.setScalar(0.004 * size);
  });
  const { width, depth } = sizeOf(picture);
  const height = groundAt(picture, pointer.x, pointer.y);
  const z = (picture.header.north_m - pointer.y - depth / 2) / width;
  return (
    <mesh
      ref={mark}
      position={[pointer.x / width - 0.5, (height / width) * exaggeration, z]}
      raycast={() => undefined}
    >
      <sphereGeometry args={[1, 12, 8]} />
      <meshBasicMaterial color={colour} toneMapped={false} />
    </mesh>
  );
}
