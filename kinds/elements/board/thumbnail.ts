import { Columns3 } from 'lucide-react';

export default () => Columns3;
