/** The words of the screens that somebody may want explained: under `?`, and in docs/guide/words.md. */

export const glossary: readonly (readonly [word: string, meaning: string])[] = [
  ["Section", "What the registrar lists: a class that students are enrolled in. Several share the course."],
  ["Layer", "One way of dividing the people of the course into groups: by section, into teams, by support plan."],
  ["Group", "People of one layer. What is for a group is for whoever is in it at that moment."],
  [
    "Mark",
    "One to three letters that stand for a group, in its colour and pattern, the same on every screen and in print.",
  ],
  [
    "Private layer",
    "A layer that no student ever sees or learns of. Its groups have a page only as a folder of their own.",
  ],
  ["Lead", "A member who leads a group: they may hand in for it, where an item says so."],
  ["Held", "Moved by hand, and so left there when the sections that a layer follows change."],
  ["Flow", "The picture of Placement: who comes from which section into which group."],
  ["Item", "A folder, page, file, link, discussion, assignment, quiz or event."],
  ["For whom", "Everyone, or groups, sections and persons, with some of them left out if need be."],
  ["Crossing", "Where the row of an item meets the column of a group: who of them can open it, and when."],
  ["Open, partly, hidden", "Of a crossing: all of the group can open it; some, or later; nobody."],
  ["Leak", "Somebody can open what was not meant for them."],
  ["Stranded", "Somebody for whom it is meant can never open it."],
  ["Who sees whom", "Whether members of two groups meet in the course: by a list, a thread, a page, a file."],
  ["Index", "A list of all items of a kind. It is a way in to each of them, past folders that do not seal."],
  ["Way in", "A place from which an item is reached: its folder, another folder that shows it too, an index."],
  [
    "Seals",
    "Of a folder: nobody reaches what is in it who may not open the folder. Without it, other ways in lead past.",
  ],
  ["Announced", "Its title is shown before it opens; unannounced items are not there until then."],
  ["Release condition", "What must hold before an item opens: a moment, a mark, a hand-in, being in a group."],
  ["Split", "Each group of a layer has its own thread, or hands in together, in one item."],
  [
    "Sealed, readable, shared",
    "Between groups of a split: they see nothing of each other, may read, or may write too.",
  ],
  ["Override", "Dates and limits of one item that are otherwise for a group, section or student."],
  ["Allowance", "Extra time, extra days or attempts that follow somebody through the whole course."],
  ["As it falls", "A date that nobody set there: it is what the rules make of all that is set."],
  ["Class meeting", "A date given as the nth meeting, another day for each group: m6 start is the start of the sixth."],
  ["Password", "What a student types before a quiz begins; it may be another for a group or student."],
  ["Filter", "Which students the gradebook shows. One that is pinned stands above the grid."],
  ["As at each hand-in", "Groups as they were when the work was handed in, wherever people are now."],
  ["Draft", "Changes that were made and that nobody else sees until they are published."],
  ["Review", "What the draft would do to each student, before anybody is touched."],
  ["Planned", "A publication that waits for its moment. If it warns of more by then, it is held back."],
  ["Access log", "Who looked through whose eyes, and who saved which file of the course."],
  ["Journal", "What was published when and by whom; each entry can be looked at as it was."],
  ["Take back", "Undoes an applied roster or a publication as a whole."],
  ["Look through", "The course as one student, or one member of a group, has it at a moment."],
  ["Visitor", "Somebody who comes in by a code and reads what is for everyone."],
  ["Wall sheet", "Groups and who is in them, to print and hang up."],
];

/** The same as a page of the guide. */
export const wordsPage = (): string =>
  `# Words\n\nWhat the screens say, and what is meant. The same list stands under \`?\`.\n\n${glossary
    .map(([word, meaning]) => `- **${word}**: ${meaning}`)
    .join("\n")}\n`;
