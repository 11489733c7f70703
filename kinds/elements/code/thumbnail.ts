import { QrCode } from 'lucide-react';

export default () => QrCode;
