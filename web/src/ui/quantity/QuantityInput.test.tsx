import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, expect, test } from "vitest";
import { QuantityInput } from "./QuantityInput";

afterEach(cleanup);

function Field({ start, assumed }: { start?: number; assumed?: number }) {
  const [value, setValue] = useState<number | undefined>(start);
  return (
    <>
      <QuantityInput label="Capacity" kind="charge" value={value} assumed={assumed} onChange={setValue} />
      <output>{value ?? "nothing"}</output>
    </>
  );
}

const input = () => screen.getByLabelText<HTMLInputElement>("Capacity");
const type = (text: string) => fireEvent.change(input(), { target: { value: text } });

test("a quantity is read as it is typed and shown back normalised", () => {
  render(<Field start={4} />);
  expect(input().value).toBe("4 Ah");
  type("4100 mAh");
  expect(screen.getByRole("status").textContent).toBe("4.1");
  expect(input().value).toBe("4100 mAh");
  fireEvent.blur(input());
  expect(input().value).toBe("4.1 Ah");
});

test("what is no quantity stays as typed, is said, and changes nothing", () => {
  render(<Field start={4} />);
  type("four");
  fireEvent.blur(input());
  expect(input().value).toBe("four");
  expect(screen.getByRole("alert").textContent).toContain("Write a capacity");
  expect(screen.getByRole("status").textContent).toBe("4");
});

test("what was not said shows what stands in, and emptying goes back to it", () => {
  render(<Field start={4} assumed={5} />);
  type("");
  expect(screen.getByRole("status").textContent).toBe("nothing");
  expect(input().placeholder).toBe("5 Ah");
  expect(screen.getByText("Not said: 5 Ah is assumed.")).toBeTruthy();
});
