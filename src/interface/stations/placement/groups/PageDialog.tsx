import { useState } from "react";
import { sayDoing, sayPart, usualPage } from "../../../../core/placement/groups/page.ts";
import { studentsOf } from "../../../../core/placement/membership.ts";
import { type GroupPage, MemberPermission, PagePart } from "../../../../core/plan/types.ts";
import { Button } from "../../../kit/Button.tsx";
import { Actions, Dialog } from "../../../kit/Dialog.tsx";
import { Checkbox } from "../../../kit/Fields.tsx";
import { SubmitForm } from "../../../kit/SubmitForm.tsx";
import { plural } from "../../../kit/words.ts";
import { useWorkbench } from "../../../workbench/context.tsx";
import base from "../../station.module.css";
import styles from "./groups.module.css";

interface PageProps {
  groupIds: string[];
  onClose(): void;
}

/** What stands on the pages of some groups, and what their members may do there. */
export function PageDialog({ groupIds, onClose }: PageProps) {
  const { store, plan, t } = useWorkbench();
  const groups = groupIds.flatMap((id) => plan.groups[id] ?? []);
  const first = groups.find(({ page }) => page)?.page ?? null;
  const [page, setPage] = useState<GroupPage>(first ?? usualPage);
  const students = new Set(groupIds.flatMap((id) => studentsOf(plan, id, t))).size;
  const title = groups.length === 1 ? `The page of ${groups[0]?.name}` : `The pages of ${groups.length} groups`;
  const draft = (next: GroupPage | null) => store.draft([{ kind: "group.page", groupIds, page: next }]) && onClose();
  function toggled<One extends string>(list: One[], one: One, all: readonly One[]): One[] {
    const wanted = list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
    return all.filter((other) => wanted.includes(other));
  }
  const empty = page.has.length === 0 && page.may.length === 0;
  return (
    <Dialog title={title} onClose={onClose}>
      <SubmitForm onSubmit={() => draft(page)}>
        <p className={base.soft}>
          {plural(students, "student")} meet {groups.length === 1 ? "there" : "there, each in their own group"}; nobody
          else does.
        </p>
        <div className={styles.choices}>
          <fieldset>
            <legend>It has</legend>
            {PagePart.options.map((part) => (
              <Checkbox
                key={part}
                isSelected={page.has.includes(part)}
                onChange={() => setPage({ ...page, has: toggled(page.has, part, PagePart.options) })}
              >
                {sayPart(part)}
              </Checkbox>
            ))}
          </fieldset>
          <fieldset>
            <legend>Members may</legend>
            <Checkbox
              isSelected={page.may.length === 0}
              onChange={(only) => setPage({ ...page, may: only ? [] : usualPage.may })}
            >
              only read
            </Checkbox>
            {MemberPermission.options.map((doing) => (
              <Checkbox
                key={doing}
                isSelected={page.may.includes(doing)}
                onChange={() => setPage({ ...page, may: toggled(page.may, doing, MemberPermission.options) })}
              >
                {sayDoing(doing)}
              </Checkbox>
            ))}
          </fieldset>
        </div>
        <p className={base.soft}>
          What members do there is live at once. It is kept where a page is taken away, and is there again with it.
        </p>
        <Actions>
          {first && <Button onPress={() => draft(null)}>{groups.length === 1 ? "No page" : "No pages"}</Button>}
          <Button onPress={onClose}>Leave</Button>
          <Button strong type="submit" isDisabled={empty}>
            {groups.length === 1 ? "Draft the page" : "Draft the pages"}
          </Button>
        </Actions>
      </SubmitForm>
    </Dialog>
  );
}
