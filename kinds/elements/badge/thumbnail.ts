import { Tag } from 'lucide-react';

export default () => Tag;
