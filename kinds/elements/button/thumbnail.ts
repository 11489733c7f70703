import { MousePointerClick } from 'lucide-react';

export default () => MousePointerClick;
