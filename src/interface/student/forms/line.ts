/** The line under a form that says what is with it. */

export interface Press {
  says: string;
  does(): void;
}

/** What went wrong (`alert`) is said at once, other things when there is a pause; nothing takes the line away. */
export function say(
  form: HTMLFormElement,
  says: string,
  presses: Press[] = [],
  role: "status" | "alert" = "status",
): void {
  for (const old of form.querySelectorAll('[data-form-says], [role="alert"]')) old.remove();
  if (says === "") return;
  const line = document.createElement("p");
  line.dataset.formSays = role;
  line.setAttribute("role", role);
  line.append(says);
  for (const press of presses) {
    const button = document.createElement("button");
    button.type = "button";
    button.dataset.quiet = "";
    button.textContent = press.says;
    button.addEventListener("click", press.does);
    line.append(" ", button);
  }
  form.append(line);
}
