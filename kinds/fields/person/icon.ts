export { UserRound as default } from 'lucide-react';
