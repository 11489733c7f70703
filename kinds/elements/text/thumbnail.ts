import { Type } from 'lucide-react';

export default () => Type;
