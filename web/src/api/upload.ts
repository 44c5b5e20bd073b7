import { OfflineError, type Problem, ProblemError } from "./client";

/** The person stopped it. */
export class StoppedError extends Error {}

/** Sends a file as it is; the server takes it in while it comes, so that what is sent is what is done. */
export function upload<T>(path: string, media: string, file: Blob, progress: (share: number) => void): { answer: Promise<T>; cancel: () => void } {
  // The one way a page can tell how much of a request has gone.
  const request = new XMLHttpRequest();
  const answer = new Promise<T>((done, failed) => {
    request.open("POST", path);
    request.setRequestHeader("content-type", media);
    request.responseType = "json";
    request.upload.addEventListener("progress", ({ loaded, total }) => {
      progress(total > 0 ? loaded / total : 0);
    });
    request.addEventListener("load", () => {
      if (request.status < 300) done(request.response as T);
      else failed(new ProblemError(request.response as Problem));
    });
    request.addEventListener("error", () => {
      failed(new OfflineError("Rumek's server cannot be reached; nothing was taken in."));
    });
    request.addEventListener("abort", () => {
      failed(new StoppedError("Stopped; nothing was taken in."));
    });
    request.send(file);
  });
  return {
    answer,
    cancel: () => {
      request.abort();
    },
  };
}
