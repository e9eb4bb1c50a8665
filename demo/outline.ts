/** The demo's outline, as such a course would have it, with honest mistakes to find. */
import {
  type Audience,
  blankItem,
  type Condition,
  type DateFields,
  type Item,
  type ItemKind,
  type Override,
  type Target,
} from "../src/core/plan/types.ts";
import { safetyCheck, uncertainty } from "./quizzes.ts";
import type { Term } from "./term.ts";

export interface Outline {
  items: Item[];
  overrides: Override[];
}

const only = (...to: Target[]): Audience => ({ to, minus: [] });

/** Plain text as the editor writes it. */
const paragraphs = (text: string): string =>
  text
    .split("\n\n")
    .filter(Boolean)
    .map((one) => `<p>${one.replace(/&/g, "&amp;").replace(/</g, "&lt;")}</p>`)
    .join("");

/** A file of the demo, small enough to be written here. */
export const fieldCard = {
  name: "Field card.csv",
  type: "text/csv; charset=utf-8",
  text: "Station,Distance from bank (m),Depth (m),Velocity at 0.6 depth (m/s)\n1,0.5,,\n2,1.0,,\n3,1.5,,\n4,2.0,,\n",
};

interface Extra extends Partial<Omit<Item, "id" | "parentId" | "position" | "kind" | "title">> {}

export function makeOutline(term: Term, id: (name: string) => string): Outline {
  const items: Item[] = [];
  const overrides: Override[] = [];
  const group = (name: string): Target => ({ kind: "group", id: id(`group ${name}`) });
  const section = (code: string): Target => ({ kind: "section", id: id(`section ${code}`) });

  const add = (parent: string | null, kind: ItemKind, title: string, extra: Extra = {}): string => {
    items.push({
      id: id(`item ${title}`),
      parentId: parent && id(`item ${parent}`),
      position: items.length,
      kind,
      title,
      ...blankItem,
      ...extra,
      body: kind === "link" ? (extra.body ?? "") : paragraphs(extra.body ?? ""),
    });
    return title;
  };
  const override = (title: string, target: Target, dates: DateFields) =>
    overrides.push({
      id: id(`override ${title} ${target.id}`),
      itemId: id(`item ${title}`),
      target,
      dates,
    });
  const due = (week: number, weekday = 5, time = "17:00"): DateFields => ({
    due: term.wall(week, weekday, time),
  });
  const of = (title: string) => id(`item ${title}`);

  const start = add(null, "folder", "Start here");
  add(start, "page", "How this course runs", {
    body: "Four sections share this course. You meet at your own section's times, work in one river team, and hand in as your own dates say.\n\nThe field days are in week 6 and week 10, whatever the weather does.",
  });
  add(start, "page", "Kit list", {
    body: "Waders, a waterproof notebook, two pencils, gloves, and something hot to drink. Gauge kits are in the store by Weir Hall.",
  });
  add(start, "page", "Working near water", {
    body: "Nobody enters the water alone, nobody above the knee. The leader's whistle ends everything at once.",
  });
  add(start, "quiz", "Safety check", {
    points: 10,
    dates: { opens: term.wall(1, 1, "08:00"), ...due(2), attempts: 3, minutes: 20 },
    quiz: safetyCheck(id),
  });
  add(start, "file", "Field card", {
    file: { id: id("file Field card"), name: fieldCard.name, type: fieldCard.type, size: fieldCard.text.length },
  });
  add(start, "link", "River levels today", { body: "https://levels.tarnbeck.example/" });

  const readings = add(null, "folder", "Readings");
  const titles = [
    "Reading a hydrograph",
    "Where the water comes from",
    "Sampling without fooling yourself",
    "Rating curves",
    "Floods we remember",
  ];
  titles.forEach((title, index) => {
    add(readings, "page", title, {
      body: `Reading ${index + 1}. Come with one question about it.`,
      condition: index === 0 ? null : { kind: "from", moment: term.wall(index * 2, 1, "08:00") },
    });
  });
  // A telling label: the title tells a level.
  add(readings, "page", "Remedial maths for hydrology", {
    body: "Logarithms, slopes and units, from the beginning.",
  });

  const trips = add(null, "folder", "Field trips");
  add(trips, "event", "Field day one", { dates: { due: term.wall(6, 6, "09:00") } });
  add(trips, "event", "Field day two", { dates: { due: term.wall(10, 6, "09:00") } });
  // The leak: a doorway hides nothing from those who come by the index of all discussions.
  const north = add(trips, "folder", "North bank", {
    seals: false,
    audience: only(group("Day 1"), group("Day 2")),
  });
  add(north, "page", "North bank route", {
    audience: only(group("Day 1"), group("Day 2")),
    body: "Meet at the footbridge. Stations N1 to N6, upstream.",
  });
  add(north, "discussion", "North bank notes", {
    body: "What did you see at your station that the map does not show?",
  });
  const south = add(trips, "folder", "South bank", {
    audience: only(group("Evening"), group("Distance")),
  });
  add(south, "page", "South bank route", {
    body: "Meet at the pumping station. Stations S1 to S5, downstream.",
  });
  add(south, "discussion", "South bank notes", {
    body: "What did you see at your station that the map does not show?",
  });

  const labs = add(null, "folder", "Gauging labs");
  add(labs, "page", "Booking a gauge kit", { body: "Choose a kit with your team before lab 1." });
  const labWeeks = [3, 5, 7, 9];
  labWeeks.forEach((week, index) => {
    const title = add(
      labs,
      "assignment",
      `Lab ${index + 1}: ${["Float gauging", "Current meter", "Dilution gauging", "Rating the weir"][index]}`,
      {
        points: 20,
        body: "Hand in your readings, the sketch of the section, and the discharge with its uncertainty.",
        dates: {
          opens: term.wall(week - 1, 1, "08:00"),
          ...due(week),
          closes: term.wall(week + 1, 5, "17:00"),
          attempts: 2,
        },
      },
    );
    override(title, group("Evening"), due(week + 1, 3, "18:00"));
    override(title, group("Distance"), due(week, 7, "23:59"));
  });
  // Due before it opens, for one group: somebody typed the wrong week for the distance section.
  override("Lab 4: Rating the weir", section("DL"), { opens: term.wall(10, 1, "08:00") });
  add(labs, "page", "Lab answers 1 and 2", {
    condition: {
      kind: "allOf",
      of: [
        { kind: "handedIn", itemId: of("Lab 1: Float gauging") },
        { kind: "handedIn", itemId: of("Lab 2: Current meter") },
      ],
    },
  });

  const talk = add(null, "folder", "Discussions");
  const split = (layer: string, between: "sealed" | "readable" | "shared") => ({
    layerId: id(`layer ${layer}`),
    between,
  });
  add(talk, "discussion", "Choosing a site", {
    points: 5,
    dates: due(4),
    split: split("River teams", "sealed"),
    body: "Agree on a site and say why, within your team.",
  });
  add(talk, "discussion", "Method critique", {
    points: 5,
    dates: due(8),
    split: split("River teams", "readable"),
    body: "One weakness of your method and one of another team's.",
  });
  add(talk, "discussion", "Questions for your instructor", {
    split: split("Sections", "sealed"),
    body: "Anything about meetings, dates and rooms.",
  });
  add(talk, "discussion", "The café by the weir", { body: "Whatever you like, within reason." });

  const quizzes = add(null, "folder", "Quizzes");
  ["Units and precision", "The water balance", "Velocity profiles", "Uncertainty"].forEach((title, index) => {
    const week = 2 + index * 2;
    add(quizzes, "quiz", `Quiz ${index + 1}: ${title}`, {
      points: 10,
      dates: {
        opens: term.wall(week, 1, "08:00"),
        ...due(week),
        closes: term.wall(week, 7, "23:59"),
        attempts: 2,
        minutes: 30,
      },
      ...(title === "Uncertainty" ? { quiz: uncertainty(id) } : {}),
    });
  });
  add(quizzes, "quiz", "Quiz 5: Floods and droughts", {
    points: 10,
    dates: {
      opens: term.wall(10, 1, "08:00"),
      ...due(10),
      closes: term.wall(10, 7, "23:59"),
      attempts: 2,
      minutes: 30,
    },
  });

  const report = add(null, "folder", "The report");
  add(report, "page", "What a good report has", {
    body: "A question, a map, a method somebody else could repeat, and an honest paragraph on what went wrong.",
  });
  add(report, "assignment", "Report proposal", {
    points: 20,
    dates: { opens: term.wall(4, 1, "08:00"), ...due(6), attempts: 1 },
  });
  add(report, "page", "Proposals that worked", {
    condition: { kind: "atLeast", itemId: of("Report proposal"), percent: 60 },
    body: "Three from earlier years, with what the markers wrote.",
  });
  add(report, "assignment", "Report draft", {
    points: 30,
    dates: { opens: term.wall(8, 1, "08:00"), ...due(9, 7, "23:59"), attempts: 1 },
  });
  override("Report draft", group("Evening"), due(10, 3, "18:00"));
  add(report, "discussion", "Reading each other's drafts", {
    condition: { kind: "handedIn", itemId: of("Report draft") },
    split: split("River teams", "sealed"),
  });
  add(report, "assignment", "Final report", {
    points: 100,
    dates: { opens: term.wall(11, 1, "08:00"), ...due(13), attempts: 1 },
  });
  const pilotMark: Condition = { kind: "atLeast", itemId: of("Pilot check"), percent: 70 };
  // Stranded: for everyone, on a quiz that only the pilots can take.
  add(report, "page", "Survey base map", {
    condition: pilotMark,
    body: "The orthophoto of the reach, for your map.",
  });

  const drones = add(null, "folder", "Drone survey", { audience: only(group("Drone pilots")) });
  add(drones, "page", "Flight rules", {
    body: "Line of sight, below 40 m, never over people or stock.",
  });
  add(drones, "quiz", "Pilot check", {
    points: 10,
    dates: { opens: term.wall(3, 1, "08:00"), ...due(4), attempts: 3 },
  });
  add(drones, "assignment", "Orthophoto of the reach", {
    points: 20,
    condition: pilotMark,
    dates: due(8),
  });
  add(drones, "discussion", "Pilots' log", { body: "Flights, batteries, wind." });

  // Veiled and for private groups: nobody else learns that it is there.
  const clinic = add(null, "folder", "Report clinic", {
    audience: only(group("Writing support")),
    announced: false,
  });
  add(clinic, "page", "Clinic times", { body: "Thursdays 11:00, library room 3. Bring a page." });
  add(clinic, "assignment", "A page to talk about", { dates: due(9, 4, "10:00") });
  add(null, "page", "Notes for next year", {
    published: false,
    body: "Move field day one a week earlier.",
  });
  return { items, overrides };
}
