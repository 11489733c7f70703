import { newRoutine, typeStep } from './logic.ts';
import { boats, plainValue, undo } from './data-steps.ts';
import type { Test } from './stage.ts';
import { addFormulaField, choose } from './whole-path.ts';

const completing: Test = {
  name: 'the formula editor completes names, paths and functions, underlines what is wrong, and lays long formulas out',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    await addFormulaField(p);
    await p.press('Formula', 'radio');
    const editor = '[aria-label="Formula of New formula"]';
    await page.type(editor, 'su');
    await p.sees('All values added up', '.cm-tooltip.cm-completionInfo');
    await p.sees('sum([4, 2, 6]) = 12', '.cm-tooltip.cm-completionInfo');
    await page.keyboard.press('Enter');
    await page.keyboard.type('Tri');
    await p.sees('Trips', '.cm-tooltip-autocomplete');
    await page.keyboard.press('Tab');
    await page.keyboard.type('.Ho');
    await p.sees('of each: number', '.cm-tooltip-autocomplete');
    await page.keyboard.press('Enter');
    await page.keyboard.type(')');
    await p.sees('sum(Trips.Hours)', editor);
    await p.sees('Old Otter 1 17', '[aria-label="Results for the first records"]');
    await page.keyboard.type(' + Boat');
    await page.waitForSelector(`${editor} .cm-lintRange-warning`);
    await p.sees('Turn the other value into text with string(', 'main');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type(
      'if sum(Trips.Hours)>10 and Length>6 and Berth!="A1" then "a boat that is out a great deal" else if Length>7 then "large" else "small"',
    );
    await page.keyboard.press('Escape');
    await p.press('Lay it out', 'button');
    await page.waitForFunction((e) => document.querySelectorAll(`${e} .cm-line`).length === 3, {}, editor);
    await undo(p);
  },
};

const everySentence: Test = {
  name: 'every guided sentence is made by its chips, works out and reads as a formula',
  async run(stage) {
    const p = await boats(stage);
    const { page } = p;
    const sentence = async (
      begin: string,
      fill: () => Promise<void>,
      formula: string,
      result: string,
    ): Promise<void> => {
      await p.press('Field', 'button');
      await p.pressText('A formula field', '[role=menu]');
      await p.press(begin, 'button');
      await fill();
      await p.sees(formula, 'main');
      await p.sees(result, 'main');
      await p.press('Close this card');
    };
    await sentence(
      'Join values',
      async () => {
        await choose(p, 'Records', 'Trips');
        await choose(p, 'Field', 'Notes');
      },
      'string join(Trips.Notes, ", ")',
      'Sandpiper 2 Fresh from the west',
    );
    await sentence(
      'One value or another',
      async () => {
        await choose(p, 'Condition 1', 'Length');
        await choose(p, 'Comparison', 'is over');
        for (const [chip, value] of [
          ['Compared with 1', '7'],
          ['Then', 'large'],
          ['Otherwise', 'small'],
        ] as const)
          await plainValue(p, chip, value);
      },
      'if Length > 7 then "large" else "small"',
      'Sandpiper 2 large',
    );
    await sentence(
      'A share in percent',
      async () => {
        await choose(p, 'Part', 'Length');
        await plainValue(p, 'Whole', '20');
      },
      'round half up(Length / 20 * 100, 1)',
      'Old Otter 1 30.5',
    );
    await sentence(
      'A total by the same values',
      async () => {
        await choose(p, 'Table', 'Trips');
        await choose(p, 'Field', 'Hours');
        await choose(p, 'Same value', 'Sail no');
      },
      'sum(all Trips[Sail no = this boat.Sail no].Hours)',
      'Old Otter 1',
    );
    await sentence(
      'The lowest or highest record',
      async () => {
        await choose(p, 'Records', 'Trips');
        await choose(p, 'Field', 'Hours');
      },
      'Trips[Hours = max(Trips.Hours)][1]',
      'Old Otter 1',
    );
    await sentence(
      'A rank',
      async () => {
        await choose(p, 'Records', 'all Boats');
        await choose(p, 'Field', 'Length');
      },
      'count(all Boats[Length > this boat.Length]) + 1',
      'Old Otter 1 17',
    );
    await sentence(
      'Words with values',
      async () => {
        await page.type('main [role=textbox][aria-label="Words"]', 'Berth {Berth} is free');
      },
      'string join(["Berth ", string(Berth), " is free"], "")',
      'Old Otter 1 Berth A1 is free',
    );
    await sentence(
      'A text made even',
      async () => {
        await choose(p, 'Text', 'Boat');
        await choose(p, 'Made even', 'capital letters');
      },
      'upper case(Boat)',
      'OLD OTTER 1',
    );
    // From the other table: a value over its link, a total with a condition, and the time since.
    await p.pressText('Trips', 'nav');
    await p.sees('120 records', 'main');
    await sentence(
      'Bring a value over',
      async () => {
        await choose(p, 'Value', 'Boat › Length');
      },
      'Boat.Length',
      'Mon 2 Feb 2026 7.2',
    );
    await sentence(
      'The time between two dates',
      async () => {
        await choose(p, 'From', 'When');
        await choose(p, 'Unit', 'whole months');
      },
      'floor(years and months duration(When, today()) / duration("P1M"))',
      'a number',
    );
    await p.sees('All clear', 'header');
  },
};

/** Where every record of a table is an amount, the desk says that a formula field fits better, and makes it. */
const whichFits: Test = {
  name: 'a step that adds to a total says whether a formula field fits better, and one is made by a press',
  async run(stage) {
    const p = await boats(stage);
    await p.pressText('Logic', 'header');
    await newRoutine(p, 'Add the hours up', 'this trip');
    await typeStep(p, "raise the boat's length by 2", 'Length by 2');
    await p.sees('No record keeps this amount, so changing the number by it is right.', 'main');
    await p.page.keyboard.down('Control');
    await p.page.keyboard.press('z');
    await p.page.keyboard.up('Control');
    await p.seesNot('No record keeps this amount', 'main');
    await p.pressText('Start it also when', 'main');
    await p.pressText('a record is added, changed or removed', '[cmdk-root]');
    await choose(p, 'What happens', 'added');
    await typeStep(p, "raise the boat's length by the hours", 'Length by this trip › Hours');
    await p.sees('A formula field fits better: each of Trips is an amount', 'main');
    await p.pressText('Make that field', 'main');
    await p.sees('Boats has “Sum of Hours” now.');
    // All trips were in the past: no date of them is to come.
    await p.pressText('Start it also when', 'main');
    await p.pressText('a date of a record is reached', '[cmdk-root]');
    await p.sees('(no date of a record is to come)', 'main');
    await p.pressText('Data', 'header');
    await p.pressText('Boats', 'nav');
    await p.sees('Sum of Hours', 'main');
    await p.sees('17', 'main');
  },
};

export const tests: Test[] = [completing, everySentence, whichFits];
