/** Invented names and notes for the demo. Mail addresses end in `.example`. */
export const HIVE_NAMES = ['Bramble', 'Clover', 'Thistle', 'Willow', 'Sorrel', 'Heather', 'Yarrow', 'Borage', 'Comfrey', 'Foxglove', 'Linden', 'Mallow', 'Meadow', 'Sainfoin', 'Teasel', 'Vetch', 'Woodbine', 'Campion', 'Dogrose', 'Elder'];
export const APIARIES = [
  ['Mill Orchard', 'Through the green gate; close it behind you.'], ['Quarry Edge', 'Park at the lay-by. The path is steep when wet.'], ['Ferry Bank', 'Tell the ferry hut before you unload.'],
  ['Long Acre', 'Key under the blue trough.'], ['Church Glebe', 'Not on Sunday mornings.'], ['Alder Carr', 'Boots. The lower row floods in spring.'],
  ['Signal Hill', 'Wind: strap the roofs.'], ['Tannery Garden', 'Ring the upper bell.'], ['Coldharbour', 'Electric fence: switch by the gate.'],
] as const;
export const FIRST = ['Odile', 'Ines', 'Tam', 'Bo', 'Maren', 'Piet', 'Sunniva', 'Calder', 'Jory', 'Wenna', 'Ansel', 'Brida', 'Corin', 'Delphe', 'Edda', 'Fenn', 'Gwilym', 'Hedda', 'Ivo', 'Jessamy', 'Keir', 'Lowen', 'Mirren', 'Nevan', 'Orla', 'Perran', 'Quill', 'Rhoda', 'Senan', 'Tegen'];
export const LAST = ['Marsh', 'Calder', 'Reyes', 'Lindqvist', 'Ashdown', 'Brack', 'Corrie', 'Dunmore', 'Elwick', 'Fallow', 'Garrick', 'Holme', 'Ingle', 'Jessop', 'Kittow', 'Larkin', 'Moorby', 'Nance', 'Orrell', 'Penrose'];
export const VISIT_NOTES = ['Calm, brood on five frames.', 'Queen seen, marked blue.', 'Fed syrup, feeder cleaned.', 'Two play cups, no eggs in them.', 'A little chalk brood on the outer frame.', 'Supers filling fast.', 'Entrance narrowed against wasps.', 'Very light, needs feeding before the weekend.', 'Mite drop counted: 4 in a day.', 'Strong smell of ivy honey.', ''];
export const GOODS = [
  ['HN-500', 'Heather honey 500 g', 'jar', 120, 9.5], ['HN-250', 'Heather honey 250 g', 'jar', 160, 5.4], ['BL-500', 'Blossom honey 500 g', 'jar', 140, 7.8], ['CR-340', 'Creamed honey 340 g', 'jar', 90, 6.9],
  ['CB-200', 'Comb honey 200 g', 'piece', 30, 8.2], ['WX-100', 'Beeswax block 100 g', 'block', 60, 3.6], ['CN-PIL', 'Pillar candle', 'piece', 40, 7.25], ['JR-500', 'Empty jar 500 g', 'piece', 400, 0.62],
  ['JR-250', 'Empty jar 250 g', 'piece', 400, 0.48], ['LB-STD', 'Label roll', 'roll', 6, 18.9], ['FR-BRD', 'Brood frame', 'piece', 50, 2.85], ['FN-BRD', 'Foundation sheet', 'sheet', 120, 1.35],
  ['SY-010', 'Syrup 10 l', 'can', 12, 14.4], ['SM-FUE', 'Smoker fuel', 'bag', 15, 4.1], ['VL-STD', 'Veil', 'piece', 8, 16.5], ['GL-STD', 'Gloves', 'pair', 10, 21],
] as const;
export const PLACES = [['Honey room', 22, 30], ['Cold store', 64, 24], ['Workshop', 30, 72], ['Market van', 78, 70]] as const;
export const SWARMS = [
  ['Large cluster under the school eaves, children nearby', 'Ferry Lane school', 'waiting', 'high'], ['Cluster on a pear branch, about a melon in size', 'Long Acre allotments', 'waiting', 'low'],
  ['Bees going in and out of a chimney', '12 Ferry Lane', 'collected', 'low'], ['On the bus shelter, people keep away', 'Market square', 'on the board', 'high'],
  ['In the hedge behind the chapel', 'Church Glebe', 'on the board', 'low'], ['Hanging from a swing', 'Mill Green playground', 'waiting', 'high'],
] as const;
export const GUIDES = [
  ['First visit of spring', 'article', 'inspection'], ['Reading a brood frame', 'article', 'inspection'], ['Mixing syrup', 'sheet', 'feeding'], ['Marking a queen', 'video', 'queens'],
  ['Taking a swarm', 'article', 'swarms'], ['Lighting a smoker that stays lit', 'video', 'tools'], ['Counting mites', 'sheet', 'health'], ['Heather: when to move the hives', 'article', 'honey'],
  ['Cleaning the extractor', 'sheet', 'honey room'], ['What to wear', 'article', 'tools'], ['Joining two colonies', 'article', 'queens'], ['Winter checklist', 'sheet', 'inspection'],
] as const;
