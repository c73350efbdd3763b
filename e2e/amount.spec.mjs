import { expect, test as base } from "@playwright/test";
import { convert, format, parse } from "../internal/web/assets/js/amount.js";

const test = base.extend({});

test("amounts are written as the pages write them", () => {
  for (const [v, places, text] of [
    [123456789, 2, "1,234,567.89"],
    [-5, 2, "−0.05"],
    [0, 2, ""],
    [1000, 0, "1,000"],
    [1, 3, "0.001"],
    [99999999999999, 2, "999,999,999,999.99"],
    [9007199254740991, 2, "90,071,992,547,409.91"],
    [-9007199254740991, 3, "−9,007,199,254,740.991"],
  ])
    expect(format(v, places)).toBe(text);
});

test("what people type and paste is read to the cent, or refused", () => {
  for (const [text, v] of [
    ["1234.5", 123450],
    ["1,234.50", 123450],
    ["1 234,50", 123450],
    ["1.234,5", 123450],
    ["(12)", -1200],
    ["−7.01", -701],
    ["-0.10", -10],
    ["€ 5", 500],
    [".5", 50],
    ["12.340", 1234],
    ["", 0],
    ["–", 0],
    ["soon", null],
    ["12.345", null],
    ["1,2,3", null],
    ["12,34,5", null],
    ["1e5", null],
    ["--1", null],
    ["1.2.3", null],
    ["100000000000000", Infinity],
  ])
    expect(parse(text, 2), text).toBe(v);
  expect(parse("1,234", 2)).toBe(123400);
  expect(parse("12", 0)).toBe(12);
  expect(parse("1.5", 0)).toBe(null);
});

test("what is written is read back", () => {
  let x = 1;
  for (let i = 0; i < 150; i++) {
    x = (x * 48271) % 2147483647;
    const v = (x % 2 ? 1 : -1) * (x * (i % 50));
    for (const places of [0, 2, 3]) expect(parse(format(v, places), places)).toBe(v + 0);
  }
});

test("conversion rounds half to even once, as the server does", () => {
  for (const [v, num, den, want] of [
    [5, "1", "2", 2],
    [7, "1", "2", 4],
    [-5, "1", "2", -2],
    [-7, "1", "2", -4],
    [10010, "85", "1000", 851],
    [2600, "1", "1000", 3],
    [2500, "1", "1000", 2],
    [99999999999999, "862", "10000", 8620000000000],
  ])
    expect(convert(v, num, den)).toBe(want);
});
