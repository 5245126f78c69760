/** From which error of a ratio in whole drops on it is told, %. */
export const OFF_PCT = 0.1;
