import { PanelTop } from 'lucide-react';

export default () => PanelTop;
