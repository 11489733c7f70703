import { List } from 'lucide-react';

export default () => List;
