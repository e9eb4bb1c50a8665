/**
 * What a question tells of those who answered it, and of itself: how many were right, whether those who know more answer it
 * better, and how its points lie. Source: semantics.md section 7, attempts.
 */
import { deviation, mean } from "d3-array";

/** What one attempt earned, by question; null: to be marked. */
export type Earned = Readonly<Record<string, number | null>>;

export interface QuestionFigures {
  /** Attempts in which it was asked and is marked. */
  n: number;
  /** Of them, how many earned all of its points. */
  right: number;
  /** Mean of what was earned, as a share of its points; null of none, or where it is worth nothing. */
  share: number | null;
  /** Answers that somebody has to mark still. */
  toMark: number;
  /**
   * Correlation of its points with those of all other questions, from -1 to 1: near 0 it tells nothing of what somebody
   * knows. Null of fewer than five, or where all earned the same.
   */
  discrimination: number | null;
}

/** Fewer than so many tell nothing of a question. */
export const fewest = 5;

/** Pearson's correlation; null where either side is the same throughout. */
function correlation(a: number[], b: number[]): number | null {
  const [sa, sb] = [deviation(a), deviation(b)];
  if (!sa || !sb) return null;
  const [ma, mb] = [mean(a) as number, mean(b) as number];
  const sum = a.reduce((total, one, at) => total + (one - ma) * ((b[at] as number) - mb), 0);
  return sum / ((a.length - 1) * sa * sb);
}

/** The figures of a question out of what attempts earned. `points`: what the whole of it is worth. */
export function figuresOf(questionId: string, points: number, attempts: readonly Earned[]): QuestionFigures {
  const asked = attempts.filter((earned) => questionId in earned);
  const marked = asked.filter((earned) => earned[questionId] !== null);
  const own = marked.map((earned) => earned[questionId] as number);
  const rest = marked.map((earned) =>
    Object.entries(earned).reduce((sum, [id, got]) => (id === questionId ? sum : sum + (got ?? 0)), 0),
  );
  return {
    n: marked.length,
    right: points > 0 ? own.filter((got) => got >= points).length : 0,
    share: marked.length === 0 || points === 0 ? null : (mean(own) as number) / points,
    toMark: asked.length - marked.length,
    discrimination: marked.length < fewest ? null : correlation(own, rest),
  };
}

/**
 * Whether those who know more answer a question worse, by more than chance would have it: the correlation is below 0 by twice
 * what it varies by (about 1/√n). Something is wrong with it then.
 */
export const isAgainst = ({ n, discrimination }: QuestionFigures): boolean =>
  discrimination !== null && discrimination < -2 / Math.sqrt(n);
