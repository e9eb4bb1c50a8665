/** What the questions of a quiz tell, for all in the filter and by groups of a layer; and the answers to one of them. */
import { scaleLinear } from "d3-scale";
import { useMemo, useState } from "react";
import type { AttemptRow, AttemptRows, EarnedRow, QuestionRow } from "../../../../api/attempts.ts";
import { fewest, figuresOf, isAgainst, type QuestionFigures } from "../../../../core/attempts/figures.ts";
import { lookup } from "../../../../core/plan/lookup.ts";
import { questionKinds } from "../../../../core/plan/questions.ts";
import type { Item } from "../../../../core/plan/types.ts";
import { groupsThen } from "../../../../core/reach/group-work.ts";
import { sayDecimal } from "../../../../core/text/locale.ts";
import { shorten } from "../../../../core/text/shorten.ts";
import { Choice } from "../../../kit/Fields.tsx";
import { byPlace } from "../../../kit/places.ts";
import { Scrollable } from "../../../kit/Scrollable.tsx";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import { Answers } from "./Answers.tsx";
import { attemptsAmong } from "./among.ts";
import styles from "./attempts.module.css";
import { useQuestions } from "./useAttempts.ts";

/** An attempt that ended, with what it earned. */
type Ended = AttemptRow & EarnedRow;

interface QuestionsProps {
  item: Item;
  rows: AttemptRows;
  personIds: string[];
  onMarked(): void;
}

export function Questions({ item, rows, personIds, onMarked }: QuestionsProps) {
  const { plan } = useWorkbench();
  const [layerId, setLayerId] = useState<string>("none");
  const [openId, setOpenId] = useState<string | null>(null);
  const found = useQuestions(item.id, rows.attempts);
  const ended = useMemo(() => {
    const earned = new Map(found?.earned.map((one) => [one.attemptId, one]));
    return attemptsAmong(plan, rows.attempts, personIds).flatMap((one): Ended[] => {
      const of = earned.get(one.id);
      return of ? [{ ...one, ...of }] : [];
    });
  }, [plan, rows, found, personIds]);
  if (!found) return <p className={base.soft}>Fetching what they earned</p>;
  const { questions } = found;
  const groups = layerId === "none" ? [] : (lookup(plan).groupsOfLayer.get(layerId) ?? []);
  const isIn = (groupId: string) => (one: Ended) =>
    one.isGroup ? one.holderId === groupId : groupsThen(plan, layerId, one.holderId, one.begunAt).includes(groupId);
  return (
    <div className={styles.questions}>
      <div className={base.bar}>
        <Choice
          label="By groups of"
          hideLabel
          value={layerId}
          onChange={setLayerId}
          options={[
            { value: "none", label: "All together" },
            ...lookup(plan).layers.map(({ id, name }) => ({ value: id, label: `By groups of ${name}` })),
          ]}
        />
        <span className={base.soft}>Of attempts that ended. A question tells something from {fewest} on.</span>
      </div>
      <Scrollable className={base.scroll as string} aria-label={`Questions of ${item.title}`}>
        <table className={base.table}>
          <thead>
            <tr>
              <th>Question</th>
              <th className={base.number}>Answered</th>
              <th className={base.number}>All right</th>
              <th>Points earned</th>
              <th className={base.number}>Tells who knows</th>
              {groups.map(({ id, name }) => (
                <th key={id} className={base.number}>
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {questions.map((question, at) => (
              <QuestionLine
                key={question.id}
                question={question}
                number={at + 1}
                ended={ended}
                shares={groups.map(({ id }) => shareIn(question, ended.filter(isIn(id))))}
                isOpen={openId === question.id}
                onOpen={() => setOpenId(openId === question.id ? null : question.id)}
              />
            ))}
          </tbody>
        </table>
        {openId && (
          <Answers
            key={openId}
            item={item}
            question={questions.find(({ id }) => id === openId) as QuestionRow}
            personIds={personIds}
            onMarked={onMarked}
          />
        )}
      </Scrollable>
    </div>
  );
}

const figuresFor = (question: QuestionRow, attempts: Ended[]): QuestionFigures =>
  figuresOf(
    question.id,
    question.points,
    attempts.map(({ earned }) => earned),
  );
const sayShare = (share: number | null): string => (share === null ? "–" : `${sayDecimal(share * 100, 0)} %`);
/** The mean of a group; nothing of groups so small that it would tell of each of them. */
function shareIn(question: QuestionRow, attempts: Ended[]): string {
  const { n, share } = figuresFor(question, attempts);
  return n < fewest ? "–" : sayShare(share);
}

interface QuestionLineProps {
  question: QuestionRow;
  number: number;
  ended: Ended[];
  /** Means of groups, said. */
  shares: string[];
  isOpen: boolean;
  onOpen(): void;
}

function QuestionLine({ question, number, ended, shares, isOpen, onOpen }: QuestionLineProps) {
  const figures = figuresFor(question, ended);
  return (
    <tr>
      <td>
        <button type="button" className={styles.name} aria-expanded={isOpen} onClick={onOpen}>
          <strong>{number}</strong> {shorten(question.text, 70)} <small>{questionKinds[question.kind]}</small>
        </button>
        {question.choices.length > 0 && <Chosen question={question} ended={ended} />}
      </td>
      <td className={base.number}>
        {figures.n}
        {figures.toMark > 0 && <small className={base.soft}>, {figures.toMark} to mark</small>}
      </td>
      <td className={base.number}>{figures.right}</td>
      <td>
        <Spread question={question} ended={ended} share={figures.share} />
      </td>
      <td className={`${base.number} ${isAgainst(figures) ? base.wrong : ""}`}>
        {figures.discrimination === null ? "–" : sayDecimal(figures.discrimination, 2)}
      </td>
      {byPlace(shares).map(({ key, one }) => (
        <td key={key} className={base.number}>
          {one}
        </td>
      ))}
    </tr>
  );
}

/** How often each choice was ticked. */
function Chosen({ question, ended }: { question: QuestionRow; ended: Ended[] }) {
  const asked = ended.filter(({ earned }) => question.id in earned);
  return (
    <ul className={styles.chosen}>
      {question.choices.map(({ id, text, right }) => (
        <li key={id}>
          <span className={right ? base.holds : base.soft}>
            {asked.filter(({ chosen }) => chosen[question.id]?.includes(id)).length} {shorten(text, 40)}
            {right && ", right"}
          </span>
        </li>
      ))}
    </ul>
  );
}

const [width, height, bins] = [120, 26, 10];

/** How the points of a question lie, from none to all of them, in tenths. */
function Spread({ question, ended, share }: { question: QuestionRow; ended: Ended[]; share: number | null }) {
  const earned = ended.flatMap(({ earned: of }) => of[question.id] ?? []);
  if (earned.length === 0 || question.points === 0) return <span className={base.soft}>–</span>;
  const counts = Array.from({ length: bins }, () => 0);
  for (const points of earned) {
    const bin = Math.min(bins - 1, Math.floor((points / question.points) * bins));
    counts[bin] = (counts[bin] as number) + 1;
  }
  const x = scaleLinear([0, bins], [0, width]);
  const y = scaleLinear([0, Math.max(...counts)], [0, height]);
  return (
    <svg
      className={styles.spread}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Mean ${sayShare(share)}; ${counts.at(-1)} with all or nearly all points, ${counts[0]} with none or nearly none`}
    >
      {byPlace(counts).map(({ key, one: count }, bin) => (
        <rect key={key} x={x(bin) + 1} y={height - y(count)} width={x(1) - 2} height={y(count)} />
      ))}
      <line x1={0} x2={width} y1={height} y2={height} />
    </svg>
  );
}
