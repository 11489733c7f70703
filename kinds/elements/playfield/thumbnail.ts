import { Gamepad2 } from 'lucide-react';

export default () => Gamepad2;
