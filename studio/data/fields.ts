import {
  AtSign,
  Banknote,
  Calendar,
  CalendarClock,
  CircleDot,
  Clock,
  ClockPlus,
  Fingerprint,
  Globe,
  Hash,
  History,
  Image,
  Link2,
  MapPin,
  Mic,
  Paperclip,
  Percent,
  Phone,
  QrCode,
  Sigma,
  Target,
  TextCursorInput,
  Timer,
  ToggleLeft,
  Type,
  UserRound,
  type LucideIcon,
} from 'lucide-react';
import type { Field, FieldType, Table, View } from '../../core/tables/schema.ts';

export const FIELD_ICONS: Record<FieldType, LucideIcon> = {
  text: Type,
  longtext: TextCursorInput,
  number: Hash,
  money: Banknote,
  percent: Percent,
  yesno: ToggleLeft,
  date: Calendar,
  time: Clock,
  datetime: CalendarClock,
  duration: Timer,
  choice: CircleDot,
  mail: AtSign,
  phone: Phone,
  web: Globe,
  picture: Image,
  file: Paperclip,
  sound: Mic,
  place: MapPin,
  plan: Target,
  code: QrCode,
  person: UserRound,
  id: Fingerprint,
  created: ClockPlus,
  changed: History,
  link: Link2,
  formula: Sigma,
};

const WIDTHS: Partial<Record<FieldType, number>> = {
  number: 100,
  money: 100,
  percent: 90,
  time: 84,
  yesno: 84,
  date: 138,
  datetime: 178,
  created: 178,
  changed: 178,
  duration: 130,
  longtext: 260,
  mail: 210,
  web: 200,
  picture: 90,
  place: 190,
  plan: 180,
};
export const NUMERIC: ReadonlySet<FieldType> = new Set(['number', 'money', 'percent', 'duration']);

/** A column of the grid: a field, its place among the cells of a row, and where it is drawn. */
export interface Column {
  field: Field;
  place: number;
  width: number;
  /** Pixels from the left edge of the table. */
  left: number;
  /** Stays in view while the rest scrolls sideways. */
  frozen: boolean;
}

/** The columns a view shows, from left to right. */
export function columnsOf(table: Table, view: View): Column[] {
  const hidden = new Set(view.hidden);
  let left = 0;
  const columns: Column[] = [];
  table.fields.forEach((field, place) => {
    if (hidden.has(field.id)) return;
    const width = view.widths[field.id] ?? WIDTHS[field.type] ?? 150;
    columns.push({ field, place, width, left, frozen: columns.length < view.frozen });
    left += width;
  });
  return columns;
}
