import { useState } from 'react';
import { Link } from 'react-router';
import type { ChannelView } from '@heliphon/contracts/channels';
import { addChannel, deleteChannel, editChannel, useChannels } from '../../data/channels.js';
import { useCan } from '../../data/session.js';
import { Button, buttonClass } from '../../ui/Button.js';
import { CopyField } from '../../ui/CopyField.js';
import { Empty, Failed, Fault, Loading } from '../../ui/states.js';
import { toldWithUndo } from '../../ui/undo-toast.js';
import { useAction } from '../../ui/useAction.js';
import { CalendarAddress } from './CalendarAddress.js';
import { ChannelForm } from './ChannelForm.js';
import { WebsitesLine } from '../websites/WebsitesLine.js';
import { WATCHING_TEXT } from '../../words/console/watching.js';
import { LOOK_TEXT } from '../../words/console/look.js';
import { HOUSE_TEXT } from '../../words/console/house.js';

/** The parts of the house that have pages of their own. */
export function ChannelsPart() {
  const { data, error, mutate } = useChannels();
  const canEdit = useCan('events.edit');
  const [isAdding, setAdding] = useState(false);
  const add = canEdit && !isAdding && (
    <Button kind="main" onClick={() => setAdding(true)}>
      {HOUSE_TEXT.addAChannel}
    </Button>
  );
  return (
    <div className="max-w-4xl">
      <div className="mb-3 flex items-center gap-4">
        <p className="max-w-[60ch] text-ink-soft">{HOUSE_TEXT.aChannelIsAPart}</p>
        <span className="flex-1" />
        {data && data.items.length > 0 && add}
      </div>
      {isAdding && (
        <ChannelForm
          channel={null}
          onSave={({ name, description }) => addChannel({ name, description })}
          onClose={() => setAdding(false)}
        />
      )}
      {error && <Failed error={error} onRetry={() => void mutate()} />}
      {!data && !error && <Loading what={HOUSE_TEXT.theChannels} />}
      {data?.items.length === 0 && !isAdding && <Empty action={add}>{HOUSE_TEXT.noChannelsYetIfYou}</Empty>}
      <ul>
        {data?.items.map((channel) => (
          <ChannelRow key={channel.id} channel={channel} />
        ))}
      </ul>
    </div>
  );
}

function ChannelRow({ channel }: { channel: ChannelView }) {
  const canEdit = useCan('events.edit');
  const action = useAction();
  const [isOpen, setOpen] = useState(false);
  const page = `${location.origin}/channel/${channel.slug}`;
  return (
    <li className="border-t border-line py-4">
      <div className="flex items-center gap-4">
        <div className="min-w-0 flex-1">
          <h2 className="text-[19px]">{channel.name}</h2>
          <p>
            <a
              href={page}
              target="_blank"
              rel="noreferrer"
              className="figures text-[13px] text-pine underline underline-offset-2"
            >
              {page}
            </a>
          </p>
        </div>
        <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? 'Close' : canEdit ? HOUSE_TEXT.changeEmbedSubscribe : HOUSE_TEXT.embedSubscribe}
        </Button>
      </div>
      {isOpen && (
        <div className="mt-3 grid gap-5">
          {canEdit && (
            <ChannelForm
              channel={channel}
              onSave={async (wish) => {
                await editChannel(channel, wish);
                toldWithUndo(HOUSE_TEXT.theChannelIsSaved, channel.id);
              }}
              onClose={() => setOpen(false)}
            />
          )}
          <CopyField
            label={HOUSE_TEXT.forAWebsiteShowsWhat}
            value={`<script async src="${location.origin}/embed.js" data-event="${channel.slug}"></script>`}
            what={HOUSE_TEXT.theEmbed}
          />
          <section aria-label={HOUSE_TEXT.inMyCalendar(channel.name)}>
            <h3 className="mb-1 font-sans text-[15px] font-semibold">{HOUSE_TEXT.addToMyCalendar}</h3>
            <CalendarAddress channelId={channel.id} />
          </section>
          <p className="flex flex-wrap gap-3">
            <WebsitesLine level="channel" id={channel.id} />
            <Link to={`/watching/channel/${channel.id}`} className={buttonClass()}>
              {WATCHING_TEXT.change}
            </Link>
            <Link to={`/look/channel/${channel.id}`} className={buttonClass()}>
              {LOOK_TEXT.changeTheLook}
            </Link>
          </p>
          {canEdit && (
            <div>
              <Button
                kind="quiet"
                disabled={action.isBusy}
                onClick={() =>
                  void action.run(async () => {
                    await deleteChannel(channel.id);
                    toldWithUndo(HOUSE_TEXT.hasBeenDeletedItsEvents(channel.name), channel.id);
                  })
                }
              >
                {HOUSE_TEXT.deleteTheChannel}
              </Button>
              <Fault error={action.error} />
            </div>
          )}
        </div>
      )}
    </li>
  );
}
