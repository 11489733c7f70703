import { ListCollapse } from 'lucide-react';

export default () => ListCollapse;
