export { CalendarClock as default } from 'lucide-react';
