import { MapPinned } from 'lucide-react';

export default () => MapPinned;
