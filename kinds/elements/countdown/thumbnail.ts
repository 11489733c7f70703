import { Timer } from 'lucide-react';

export default () => Timer;
