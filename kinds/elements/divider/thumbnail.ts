import { Minus } from 'lucide-react';

export default () => Minus;
