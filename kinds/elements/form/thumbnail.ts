import { FileInput } from 'lucide-react';

export default () => FileInput;
