export { ClockPlus as default } from 'lucide-react';
