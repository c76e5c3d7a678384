/** Where a check-in is prepared: as the player's latest benchmark was, where there is one. */
export function checkIn(player: string, benchmark?: string | null): string {
  const repeats = benchmark ? `&benchmark=${benchmark}` : "";
  return `/players/${player}/prepare?purpose=benchmark${repeats}`;
}
