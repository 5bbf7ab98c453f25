import { type UseMutateFunction, type UseMutationOptions, useMutation } from '@tanstack/react-query';
import { useCallback, useRef } from 'react';

/** What is asked for, as text; files by what they are told apart by. */
const nameOf = (input: unknown): string =>
  JSON.stringify(input, (_, value) => (value instanceof File ? [value.name, value.size, value.lastModified] : value)) ?? '';

type Options<Answer, Input> = Omit<UseMutationOptions<Answer, Error, Input>, 'mutationFn'> & {
  readonly mutationFn: (input: Input) => Promise<Answer>;
};

/**
 * A mutation that is not asked for again with the same before the server has answered: of a double click, the second does nothing. A button
 * that is greyed while it is under way is not enough, as the second click may come before the page is drawn anew.
 */
export function useOnce<Answer, Input>({ mutationFn, ...options }: Options<Answer, Input>) {
  const underWay = useRef(new Set<string>()).current;
  const mutation = useMutation<Answer, Error, Input>({
    ...options,
    mutationFn: (input) => mutationFn(input).finally(() => underWay.delete(nameOf(input))),
  });
  const { mutate: send } = mutation;
  // The same function at every drawing, as what waits for rest before it asks depends on it.
  const mutate = useCallback<UseMutateFunction<Answer, Error, Input>>(
    (...asked) => {
      const name = nameOf(asked[0]);
      if (underWay.has(name)) return;
      underWay.add(name);
      send(...asked);
    },
    [send, underWay],
  );
  return { ...mutation, mutate };
}
