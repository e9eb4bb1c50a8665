/** One question put to a worker of its own, which ends with its answer. */
export function askOnce<Question, Answer>(make: () => Worker, question: Question, failed: Answer): Promise<Answer> {
  return new Promise((resolve) => {
    const worker = make();
    const done = (answer: Answer) => {
      worker.terminate();
      resolve(answer);
    };
    worker.onmessage = ({ data }: MessageEvent<Answer>) => done(data);
    worker.onerror = () => done(failed);
    worker.postMessage(question);
  });
}
