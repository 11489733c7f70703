import { createContext, useContext } from 'react';
import type { Cell } from '../core/fields/lists.ts';

/** The form around an input or button: what is typed in it, and how it is saved. */
export interface FormState {
  values: Record<string, Cell>;
  problems: Record<string, string>;
  saving: boolean;
  set(field: string, cell: Cell): void;
  save(): void;
}

export const FormContext = createContext<FormState | null>(null);
export const useForm = (): FormState | null => useContext(FormContext);
