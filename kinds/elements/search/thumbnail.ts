import { Search } from 'lucide-react';

export default () => Search;
