/** The device's wall time, to the second: a claim. */
export const wall = () => new Date().toISOString().replace(/\.\d+Z$/, 'Z')
