import { Bug } from 'lucide-react';

export default () => Bug;
