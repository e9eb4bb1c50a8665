/**
 * Several nodes of one database (MariaDB with Galera): mysql2's pool cluster asks the first that is in it. Which are is looked
 * at here, since a node that was cut off from the others still takes connections, and refuses every statement.
 */
import mysql, {
  type Connection,
  type Pool,
  type PoolCluster,
  type PoolOptions,
  type RowDataPacket,
} from "mysql2/promise";

/** Where statements are sent: a pool of one server, or the nodes of a cluster. */
export interface Connections extends Pick<Pool, "getConnection" | "query" | "end"> {
  /** Looks at once which nodes are ready, where there are several. */
  look?(): Promise<void>;
}

/** How often nodes are looked at, and how long one is waited for, in milliseconds. */
const lookMs = 2000;

interface Node {
  id: string;
  options: PoolOptions;
  /** Over which it is looked at. */
  own: Connection | null;
  isIn: boolean;
}

/** "behind": it takes statements, and may let them wait while another node is filled from it. */
type State = "away" | "behind" | "ready";

/** A server without Galera is ready when it answers. */
async function stateOf(node: Node): Promise<State> {
  try {
    if (!node.own) {
      node.own = await mysql.createConnection({ uri: node.options.uri, connectTimeout: lookMs });
      // One that ends between two looks is found at the next.
      node.own.on("error", () => {});
    }
    const sql = "SHOW STATUS WHERE Variable_name IN ('wsrep_ready', 'wsrep_local_state_comment')";
    const [status] = await node.own.query<RowDataPacket[]>({ sql, timeout: lookMs });
    const said = Object.fromEntries(status.map((row) => [row.Variable_name, row.Value]));
    if ((said.wsrep_ready ?? "ON") !== "ON") return "away";
    return (said.wsrep_local_state_comment ?? "Synced") === "Synced" ? "ready" : "behind";
  } catch {
    node.own?.destroy();
    node.own = null;
    return "away";
  }
}

/** The nodes at some addresses. The first that is ready is asked, the next where it is not. */
export function openNodes(addresses: string[], options: PoolOptions): Connections {
  // Whoever cannot connect tries the next node at once, and this one again after a while.
  const cluster = mysql.createPoolCluster({
    canRetry: true,
    removeNodeErrorCount: 1,
    restoreNodeTimeout: lookMs,
  }) as PoolCluster & { remove(id: string): void };
  const nodes = addresses.map(
    (uri, at): Node => ({ id: `node ${at + 1}`, options: { ...options, uri }, own: null, isIn: false }),
  );
  const all = cluster.of("*", "ORDER");
  let looking: Promise<void> | null = null;
  let isEnded = false;

  function take(states: State[]): void {
    const least = states.includes("ready") ? "ready" : "behind";
    nodes.forEach((node, at) => {
      const isIn = states[at] === least;
      if (isIn && !node.isIn) cluster.add(node.id, node.options);
      else if (!isIn && node.isIn) cluster.remove(node.id);
      node.isIn = isIn;
    });
  }
  const look = (): Promise<void> => {
    looking ??= Promise.all(nodes.map(stateOf)).then((states) => {
      if (!isEnded) take(states);
      looking = null;
    });
    return looking;
  };
  const timer = setInterval(() => void look(), lookMs);
  timer.unref();

  return {
    look,
    query: all.query.bind(all) as Pool["query"],
    async getConnection() {
      if (!nodes.some(({ isIn }) => isIn)) await look();
      return all.getConnection();
    },
    async end() {
      isEnded = true;
      clearInterval(timer);
      await looking;
      for (const { own } of nodes) own?.destroy();
      await cluster.end();
    },
  };
}
