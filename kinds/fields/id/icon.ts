export { Fingerprint as default } from 'lucide-react';
