// save has the browser keep a file.
export function save(blob, name) {
  const a = document.createElement("a");
  a.href = URL.createObjectURL(blob);
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000);
}

// sent posts what a script has as JSON; what the server says against it is an error.
export async function sent(to, body) {
  const answer = await fetch(to, {
    method: "POST",
    headers: { "Content-Type": "application/json", Accept: "application/json", "X-Csrf-Token": document.body.dataset.token },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error((await answer.json().catch(() => null))?.error ?? `The server answered ${answer.status}.`);
  return answer;
}
