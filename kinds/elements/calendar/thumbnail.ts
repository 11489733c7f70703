import { CalendarDays } from 'lucide-react';

export default () => CalendarDays;
