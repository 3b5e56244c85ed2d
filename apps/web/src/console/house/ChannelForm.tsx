import { type FormEvent, useState } from 'react';
import { CHANNEL_LIMITS, type ChannelView } from '@heliphon/contracts/channels';
import { Button } from '../../ui/Button.js';
import { TextArea, TextField } from '../../ui/Field.js';
import { Fault } from '../../ui/states.js';
import { useAction } from '../../ui/useAction.js';
import { fieldSentence } from '../../words/problems.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

type Wish = Pick<ChannelView, 'name' | 'description' | 'slug'>;

interface ChannelFormProps {
  /** `null` for a new one, whose address follows from its name. */
  readonly channel: ChannelView | null;
  readonly onSave: (wish: Wish) => Promise<unknown>;
  readonly onClose: () => void;
}

/** What a channel is called, where it is found, and what its page says of it. */
export function ChannelForm({ channel, onSave, onClose }: ChannelFormProps) {
  const [wish, setWish] = useState<Wish>({
    name: channel?.name ?? '',
    description: channel?.description ?? '',
    slug: channel?.slug ?? '',
  });
  const action = useAction();
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    void action.run(async () => {
      await onSave(wish);
      onClose();
    });
  };
  return (
    <form onSubmit={submit} className="mb-4 grid gap-3">
      <div className="grid gap-3 md:grid-cols-2">
        <TextField
          label={HOUSE_TEXT.nameOfTheChannel}
          needed
          value={wish.name}
          error={fieldSentence(action.error, 'name')}
          maxLength={CHANNEL_LIMITS.nameLength}
          onChange={(typed) => setWish({ ...wish, name: typed.target.value })}
        />
        {channel && (
          <TextField
            label={HOUSE_TEXT.addressOfItsPage}
            value={wish.slug}
            error={fieldSentence(action.error, 'slug')}
            hint={`${location.origin}/channel/${wish.slug}`}
            onChange={(typed) => setWish({ ...wish, slug: typed.target.value })}
          />
        )}
      </div>
      <TextArea
        label={HOUSE_TEXT.description}
        rows={2}
        value={wish.description}
        error={fieldSentence(action.error, 'description')}
        maxLength={CHANNEL_LIMITS.descriptionLength}
        onChange={(typed) => setWish({ ...wish, description: typed.target.value })}
      />
      <div className="flex gap-3">
        <Button kind="main" type="submit" disabled={action.isBusy}>
          {channel ? HOUSE_TEXT.saveTheChannel : HOUSE_TEXT.addTheChannel}
        </Button>
        <Button onClick={onClose}>{HOUSE_TEXT.cancel}</Button>
      </div>
      <Fault error={action.error} exceptAt={['name', 'slug', 'description']} />
    </form>
  );
}
