/**
 * Several nodes of one database (MariaDB with Galera), each with a pool of its own while it is ready. That is looked at again
 * and again, since a node that was cut off from the others still takes connections, and refuses every statement.
 */
import mysql, {
  type Connection,
  type Pool,
  type PoolConnection,
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
  options: PoolOptions;
  /** Over which it is looked at. */
  own: Connection | null;
  /** Null where it is not asked. */
  pool: Pool | null;
}

/** "behind": it takes statements, and may let them wait while another node is filled from it. */
type State = "away" | "behind" | "ready";

/** A server that was built without Galera does not know what is set. */
function refusedAlone(error: unknown): void {
  if ((error as { code?: string }).code !== "ER_UNKNOWN_SYSTEM_VARIABLE") throw error;
}

/** A server without Galera is ready when it answers. */
async function stateOf(node: Node): Promise<State> {
  try {
    if (!node.own) {
      node.own = await mysql.createConnection({ uri: node.options.uri, connectTimeout: lookMs });
      // One that ends between two looks is found at the next.
      node.own.on("error", () => {});
      // Otherwise it would wait with all others while the nodes agree on who of them is left.
      await node.own.query({ sql: "SET SESSION wsrep_sync_wait = 0", timeout: lookMs }).catch(refusedAlone);
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

/** As mysql2 says it where no node can be asked. */
const noneOnline = () => Object.assign(new Error("No node of the database can be asked."), { code: "POOL_NONEONLINE" });
/** Whoever finds too many waiting is told so: other nodes have no more room than this one. */
const isTooMany = (error: unknown): boolean => error instanceof Error && /^Queue limit/.test(error.message);

/** The nodes at some addresses. The first that is ready is asked, the next where it is not. */
export function openNodes(addresses: string[], options: PoolOptions): Connections {
  // mysql2 has a pool of several servers as well. It ends the process where a server is taken out of it that is being connected
  // to: nobody hears of that failure.
  const nodes = addresses.map((uri): Node => ({ options: { ...options, uri }, own: null, pool: null }));
  let looking: Promise<void> | null = null;
  let isEnded = false;

  function takeOut(node: Node): Promise<void> {
    const { pool } = node;
    node.pool = null;
    // What waits in it is refused, and tried again over another node.
    return pool ? pool.end().catch(() => {}) : Promise.resolve();
  }
  function take(states: State[]): void {
    const least = states.includes("ready") ? "ready" : "behind";
    nodes.forEach((node, at) => {
      if (states[at] !== least) void takeOut(node);
      else node.pool ??= mysql.createPool(node.options);
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

  /** A connection to a node, or why there is none. */
  async function connect(node: Node): Promise<{ connection: PoolConnection } | { error: unknown }> {
    const { pool } = node;
    if (!pool) return { error: noneOnline() };
    try {
      return { connection: await pool.getConnection() };
    } catch (error) {
      if (isTooMany(error)) throw error;
      // Until it is looked at again, which it may have been meanwhile.
      if (node.pool === pool) void takeOut(node);
      return { error };
    }
  }
  async function getConnection(): Promise<PoolConnection> {
    if (!nodes.some(({ pool }) => pool)) await look();
    let last: unknown = noneOnline();
    for (const node of nodes.filter(({ pool }) => pool)) {
      const answer = await connect(node);
      if ("connection" in answer) return answer.connection;
      last = answer.error;
    }
    throw last;
  }

  const query = async (...asked: Parameters<PoolConnection["query"]>) => {
    const connection = await getConnection();
    try {
      return await connection.query(...asked);
    } finally {
      connection.release();
    }
  };
  return {
    look,
    getConnection,
    query: query as Pool["query"],
    async end() {
      isEnded = true;
      clearInterval(timer);
      await looking;
      for (const { own } of nodes) own?.destroy();
      await Promise.all(nodes.map(takeOut));
    },
  };
}
