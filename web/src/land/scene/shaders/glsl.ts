/** Numbers as shaders write them. */
export const float = (value: number) => (Number.isInteger(value) ? `${value}.0` : `${value}`);
export const uint = (value: number) => `${value}u`;
