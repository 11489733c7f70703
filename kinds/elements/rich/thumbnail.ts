import { PilcrowIcon } from 'lucide-react';

export default () => PilcrowIcon;
