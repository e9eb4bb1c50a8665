/** What every stand-in does about its own end. */

/**
 * A stand-in that another process started ends with it, also where that one is killed while the stand-in is still being
 * loaded: the channel between them is closed then before anybody listens for it.
 */
export function endWithParent(): void {
  const end = () => process.exit(0);
  process.on("disconnect", end);
  process.on("SIGTERM", end);
  if (process.connected === false) end();
}
