/** The built page to play, with `%title%` and `%game%` where these go (vite.player.config.ts). */
declare const player: string;
export default player;
