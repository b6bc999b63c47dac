import { yupResolver } from '@hookform/resolvers/yup';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { signInSchema, type SignIn } from '@gray-loom/wire';
import { Button } from '../ui/controls';
import { api, Refused } from './api';
import { LabelledBox, Refusal, WayIn } from './way-in';

/** The way in. What was typed stays when it does not fit; whoever has a second factor is asked for its code. */
export function SignInPage() {
  const client = useQueryClient();
  const [refusal, setRefusal] = useState<string | null>(null);
  const [asksCode, setAsksCode] = useState(false);
  const { register, handleSubmit, formState, setFocus } = useForm<SignIn>({
    resolver: yupResolver(signInSchema) as never,
    defaultValues: { email: '', password: '', code: '' },
  });
  const { errors } = formState;
  const send = handleSubmit(async (values) => {
    setRefusal(null);
    try {
      await api.post('/session', values);
      await client.invalidateQueries();
    } catch (error) {
      const wantsCode = error instanceof Refused && error.problem.code === 'codeWanted';
      if (wantsCode) {
        setAsksCode(true);
        setTimeout(() => setFocus('code'));
      } else setRefusal((error as Error).message);
    }
  });
  return (
    <WayIn title="Sign in to the contact database" onSubmit={() => void send()}>
      <LabelledBox
        label="E-mail"
        type="email"
        autoComplete="username"
        autoFocus
        error={errors.email?.message}
        {...register('email')}
      />
      <LabelledBox
        label="Password"
        type="password"
        autoComplete="current-password"
        error={errors.password?.message}
        {...register('password')}
      />
      {asksCode ? (
        <>
          <LabelledBox
            label="Code of the second factor"
            inputMode="numeric"
            autoComplete="one-time-code"
            error={errors.code?.message}
            {...register('code')}
          />
          <p className="mt-1 text-[12.5px] text-ink2">
            The six digits that your authenticator shows, or one of your recovery codes.
          </p>
        </>
      ) : null}
      <Refusal text={refusal} />
      <Button kind="action" type="submit" busy={formState.isSubmitting} className="mt-5 w-full justify-center">
        Sign in
      </Button>
    </WayIn>
  );
}
