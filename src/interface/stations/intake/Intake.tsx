import { type ReactNode, useEffect } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import { doubleEnrolled } from "../../../core/placement/membership.ts";
import { compareText, fullName, holdsAt, lookup } from "../../../core/plan/lookup.ts";
import type { Enrolment } from "../../../core/plan/types.ts";
import { Button } from "../../kit/Button.tsx";
import { useParts, usePlace, useWorkbench, Why } from "../../workbench/context.tsx";
import { stationName } from "../../workbench/names.ts";
import { type ViewOf, viewsOf } from "../../workbench/views.ts";
import tabs from "../placement/placement.module.css";
import base from "../station.module.css";
import { Compared } from "./Compared.tsx";
import styles from "./intake.module.css";
import { People } from "./People.tsx";
import { Sections } from "./Sections.tsx";
import { Staff } from "./Staff.tsx";
import { Students } from "./Students.tsx";
import { TakeIn } from "./TakeIn.tsx";
import { useIntake } from "./useIntake.ts";
import { Verdicts } from "./Verdicts.tsx";

type Part = ViewOf<"intake">;

export function Intake() {
  const state = useParts("scope");
  return state.scope === null ? <WholeIntake /> : <Parts first="students" rosters={null} />;
}

function WholeIntake() {
  const intake = useIntake();
  if (intake.sources.length > 0)
    return (
      <div className={base.station}>{intake.scope ? <Compared intake={intake} /> : <Verdicts intake={intake} />}</div>
    );
  const rosters = (
    <>
      <TakeIn intake={intake} />
      <DoubleEnrolled />
    </>
  );
  return <Parts first="rosters" rosters={rosters} />;
}

interface PartsProps {
  first: Part;
  /** Null within a scope: rosters and staff are not one's own to change, and sections and people are looked at. */
  rosters: ReactNode;
}
function Parts({ first, rosters }: PartsProps) {
  const state = useParts("target");
  const [asked, setPart] = usePlace<Part>("intake.view", first);
  const isWhole = rosters !== null;
  const shown = viewsOf("intake", isWhole);
  // An address may come from somebody who sees more.
  const part = shown.some(({ value }) => value === asked) ? asked : first;
  useEffect(() => {
    if (state.target?.kind === "person") setPart(isWhole ? "people" : "students");
  }, [state.target, setPart, isWhole]);
  return (
    <Tabs
      className={base.station as string}
      selectedKey={part}
      onSelectionChange={(key) => setPart(String(key) as Part)}
    >
      <div className={base.head}>
        <h2>{stationName("intake", isWhole)}</h2>
        <TabList aria-label={`Parts of ${stationName("intake", isWhole)}`} className={tabs.tabs as string}>
          {shown.map(({ value, label }) => (
            <Tab key={value} id={value} className={tabs.tab as string}>
              {label}
            </Tab>
          ))}
        </TabList>
      </div>
      {!isWhole && (
        <TabPanel id="students" className={styles.panel as string}>
          <Students />
        </TabPanel>
      )}
      {rosters && (
        <TabPanel id="rosters" className={styles.panel as string}>
          {rosters}
        </TabPanel>
      )}
      <TabPanel id="sections" className={styles.panel as string}>
        <Sections />
      </TabPanel>
      <TabPanel id="people" className={styles.panel as string}>
        <People />
      </TabPanel>
      {rosters && (
        <TabPanel id="staff" className={styles.panel as string}>
          <Staff />
        </TabPanel>
      )}
    </Tabs>
  );
}

/** Students in two sections: choosing a home is drafted there and then. */
function DoubleEnrolled() {
  const { store, plan, t } = useWorkbench();
  const people = doubleEnrolled(plan, t);
  return (
    <Why>
      {people.length === 0 ? (
        <p className={base.soft}>Verdicts, and whatever a roster leaves to decide, are explained here.</p>
      ) : (
        <section>
          <h3 className={base.whyTitle}>In two sections</h3>
          <p className={base.soft}>Until you choose, the section they joined last is their home.</p>
          {people.map((personId) => {
            const person = plan.people[personId];
            const code = (row: Enrolment) => plan.sections[row.sectionId ?? ""]?.code ?? "";
            const open = (lookup(plan).enrolmentsOfPerson.get(personId) ?? [])
              .filter((row) => row.sectionId && holdsAt(row, t))
              .sort((a, b) => compareText(code(a), code(b)));
            return (
              <div key={personId} className={styles.double}>
                <strong>{person && fullName(person)}</strong>
                {open.map((row) => (
                  <Button key={row.id} onPress={() => store.draft([{ kind: "enrolment.home", enrolmentId: row.id }])}>
                    Home is {code(row)}
                  </Button>
                ))}
              </div>
            );
          })}
        </section>
      )}
    </Why>
  );
}
