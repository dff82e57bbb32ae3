// Made by ./renew from crates/terrain/src/picture/shared.rs.
export const TRIANGLES = 1.7;
export const SKEW_BACK = 0.57735027;
export const SKEW_UP = 1.15470054;
export const SIDES = 4;
export const GENTLE = 0.09;
export const LEAST_SHARE = 0.04;
export const ACROSS = 2654435761;
export const UP = 3037000499;
export const MIX_FIRST = 2146121005;
export const MIX_SECOND = 2221713035;
export const KNEE = 0.5;
