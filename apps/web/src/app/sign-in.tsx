import { yupResolver } from '@hookform/resolvers/yup';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { signInSchema, type SignIn } from '@gray-loom/wire';
import { Button } from '../ui/controls';
import { api } from './api';
import { Mark } from './mark';

/** The way in. What was typed stays when it does not fit. */
export function SignInPage() {
  const client = useQueryClient();
  const [refusal, setRefusal] = useState<string | null>(null);
  const { register, handleSubmit, formState } = useForm<SignIn>({ resolver: yupResolver(signInSchema) });
  const send = handleSubmit(async (values) => {
    setRefusal(null);
    try {
      await api.post('/session', values);
      await client.invalidateQueries();
    } catch (error) {
      setRefusal((error as Error).message);
    }
  });
  return (
    <main className="grid h-full place-items-center bg-ground">
      <form onSubmit={send} noValidate className="w-80 border border-strong bg-page p-6">
        <p className="flex items-center gap-3 text-[16px] font-bold">
          <Mark /> Gray Loom
        </p>
        <h1 className="mt-4 text-ink2">Sign in to the contact database</h1>
        <label className="mt-4 block">
          <span className="text-ink2">E-mail</span>
          <input
            type="email"
            autoComplete="username"
            autoFocus
            aria-invalid={!!formState.errors.email}
            className="field mt-1 w-full"
            {...register('email')}
          />
          {formState.errors.email ? <span className="text-alarm">{formState.errors.email.message}</span> : null}
        </label>
        <label className="mt-3 block">
          <span className="text-ink2">Password</span>
          <input
            type="password"
            autoComplete="current-password"
            aria-invalid={!!formState.errors.password}
            className="field mt-1 w-full"
            {...register('password')}
          />
          {formState.errors.password ? <span className="text-alarm">{formState.errors.password.message}</span> : null}
        </label>
        {refusal ? (
          <p role="alert" className="mt-3 text-alarm">
            {refusal}
          </p>
        ) : null}
        <Button kind="action" type="submit" busy={formState.isSubmitting} className="mt-5 w-full justify-center">
          Sign in
        </Button>
      </form>
    </main>
  );
}
