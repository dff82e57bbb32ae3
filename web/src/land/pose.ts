/** Where the camera stands first and what it looks at, in widths of the land. */
export const FIRST_POSE = [-0.58, 0.44, 0.66, -0.02, 0, 0.02];
