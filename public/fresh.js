// Keeps a student's page as it is now without a reload: when the clock opens or closes something, when the course was
// published anew, and when somebody is no longer in it. What is being typed is never taken away.
(() => {
  const course = document.currentScript.dataset.course;
  let known = null;
  let timer = null;
  const typing = () =>
    [...document.querySelectorAll("main form")].some((form) =>
      [...form.elements].some(
        (field) =>
          (field === document.activeElement && field.type !== "submit") ||
          (field.value !== field.defaultValue && field.type !== "hidden" && field.type !== "submit"),
      ),
    ) || Boolean(document.activeElement?.closest("[contenteditable]"));
  const renew = async () => {
    if (typing()) return;
    const answer = await fetch(location.href, { headers: { accept: "text/html" } });
    if (!answer.ok || answer.redirected) return location.reload();
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const main = page.querySelector("main");
    if (main && !typing()) document.querySelector("main").replaceWith(document.adoptNode(main));
  };
  const ask = async () => {
    clearTimeout(timer);
    let wait = 60_000;
    try {
      const answer = await fetch(`/course/${course}/fresh`);
      if (answer.status === 404 || answer.redirected) return location.reload();
      if (answer.ok) {
        const { tag, next, now } = await answer.json();
        if (known !== null && known !== tag) await renew();
        known = tag;
        if (next !== null) wait = Math.min(wait, Math.max(500, next - now + 200));
      }
    } catch {
      // Without the server the page stays as it is.
    }
    timer = setTimeout(ask, wait);
  };
  document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && ask());
  ask();
})();
