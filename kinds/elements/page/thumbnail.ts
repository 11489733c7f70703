import { AppWindow } from 'lucide-react';

export default () => AppWindow;
