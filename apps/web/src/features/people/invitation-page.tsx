import { yupResolver } from '@hookform/resolvers/yup';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, useNavigate, useParams } from 'react-router';
import { acceptSchema, LEAST_PASSWORD, type Accept, type OpenInvitation } from '@gray-loom/wire';
import { api } from '../../app/api';
import { keys } from '../../app/keys';
import { LabelledBox, Refusal, WayIn } from '../../app/way-in';
import { Button, Loading } from '../../ui/controls';

/** What somebody sees who opens the link of an invitation, or one for a new password. */
export function InvitationPage() {
  const { token = '' } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [refusal, setRefusal] = useState<string | null>(null);
  const open = useQuery({
    queryKey: keys.invitation(token),
    queryFn: () => api.get<OpenInvitation>(`/invitations/${token}`),
    retry: false,
    staleTime: Infinity,
  });
  const { register, handleSubmit, formState } = useForm<Accept>({
    resolver: yupResolver(acceptSchema) as never,
    values: { name: open.data?.name ?? '', password: '' },
  });
  const { errors } = formState;
  const send = handleSubmit(async (values) => {
    setRefusal(null);
    try {
      await api.post(`/invitations/${token}`, values);
    } catch (error) {
      setRefusal((error as Error).message);
      return;
    }
    client.clear();
    void navigate('/', { replace: true });
  });
  if (open.isPending) return <Loading what="the invitation" />;
  if (open.error)
    return (
      <WayIn title="This link opens nothing" onSubmit={() => undefined}>
        <Refusal text={open.error.message} />
        <p className="mt-4">
          <Link className="link" to="/">
            Sign in
          </Link>
        </p>
      </WayIn>
    );
  const { email, isReset, invitedBy } = open.data;
  const title = isReset
    ? `Choose a new password for ${email}`
    : `${invitedBy || 'Somebody'} invites you to the contact database, as ${email}`;
  return (
    <WayIn title={title} onSubmit={() => void send()}>
      {isReset ? null : (
        <LabelledBox label="Your name" autoComplete="name" error={errors.name?.message} {...register('name')} />
      )}
      <LabelledBox
        label={`Password, at least ${LEAST_PASSWORD} characters`}
        type="password"
        autoComplete="new-password"
        autoFocus
        error={errors.password?.message}
        {...register('password')}
      />
      <Refusal text={refusal} />
      <Button kind="action" type="submit" busy={formState.isSubmitting} className="mt-5 w-full justify-center">
        {isReset ? 'Set the password and sign in' : 'Make the account and sign in'}
      </Button>
    </WayIn>
  );
}
