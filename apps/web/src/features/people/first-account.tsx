import { yupResolver } from '@hookform/resolvers/yup';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { firstAccountSchema, LEAST_PASSWORD, type FirstAccount } from '@gray-loom/wire';
import { api } from '../../app/api';
import { LabelledBox, Refusal, WayIn } from '../../app/way-in';
import { Button } from '../../ui/controls';

/** A new workspace asks who manages it. */
export function FirstAccountPage() {
  const client = useQueryClient();
  const [refusal, setRefusal] = useState<string | null>(null);
  const { register, handleSubmit, formState } = useForm<FirstAccount>({ resolver: yupResolver(firstAccountSchema) });
  const { errors } = formState;
  const send = handleSubmit(async (values) => {
    setRefusal(null);
    try {
      await api.post('/first-account', values);
    } catch (error) {
      setRefusal((error as Error).message);
      return;
    }
    await client.invalidateQueries();
  });
  return (
    <WayIn
      title="Nobody has an account here yet. Make the first one: it is an administrator."
      onSubmit={() => void send()}
    >
      <LabelledBox label="Your name" autoComplete="name" autoFocus error={errors.name?.message} {...register('name')} />
      <LabelledBox
        label="E-mail"
        type="email"
        autoComplete="username"
        error={errors.email?.message}
        {...register('email')}
      />
      <LabelledBox
        label={`Password, at least ${LEAST_PASSWORD} characters`}
        type="password"
        autoComplete="new-password"
        error={errors.password?.message}
        {...register('password')}
      />
      <Refusal text={refusal} />
      <Button kind="action" type="submit" busy={formState.isSubmitting} className="mt-5 w-full justify-center">
        Make the account
      </Button>
    </WayIn>
  );
}
