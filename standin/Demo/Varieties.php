<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\ViewOnce;
use Geschenk\Core\Platform;

/** One message of every kind and mark that the messenger knows, as the last of a group. */
final class Varieties
{
    private int $number = 0;

    /**
     * @param non-empty-list<Person> $crowd
     * @param string                 $elsewhere wire id of a message in another conversation
     */
    public function __construct(
        private readonly SampleFiles $files,
        private readonly array $crowd,
        private readonly int $from,
        private readonly string $elsewhere,
    ) {
    }

    /**
     * @param Platform $platform of the phone: each has something that the other can't hold
     *
     * @return list<Message>
     */
    public function messages(Platform $platform): array
    {
        $who = $this->crowd[0];
        $other = $this->crowd[1 % count($this->crowd)];
        $name = $other->bookName ?? $other->ownName ?? 'you';
        $asked = $this->said(Kind::Text, 'Which hall for the honey show?', $who);
        $list = [
            $asked,
            $this->said(Kind::Poll, 'Which hall for the honey show?', $who, content: new Poll(false, null, [
                [
                    'text' => 'St Olave’s hall',
                    'votes' => [
                        ['who' => $who->key, 'at' => $this->from], ['who' => null, 'at' => $this->from + 9_000],
                    ],
                ], [
                    'text' => 'The old pilot house', 'votes' => [['who' => $other->key, 'at' => $this->from + 4_000]],
                ], ['text' => 'Outside, and pray', 'votes' => []],
            ])),
            $this->said(
                Kind::Text, sprintf('@%s you have the key, haven’t you? 🔑', $name), null,
                mentions: [new Mention($other->key, 0, strlen('@'.$name))],
            ),
            $this->said(
                Kind::Text, 'Yes. Two of them, even.', $other, editedAt: $this->from + 60_000, replyTo: $asked->wireId,
                reactions: [new Reaction(null, '👍🏽', $this->from + 61_000)],
            ),
            $this->said(Kind::Text, 'As I wrote to her yesterday:', $who, replyTo: $this->elsewhere),
            $this->said(
                Kind::Place, null, $who,
                content: new Place(51.508_812, -0.012_345, 'St Olave’s hall', 'Mill Lane 4', null),
            ),
            $this->said(
                Kind::LivePlace, null, $other,
                content: new Place(51.507_1, -0.011_9, null, null, $this->from + 3_600_000),
            ),
            $this->said(
                Kind::ContactCard, null, null,
                content: new ContactCards(
                    [
                        [
                            'name' => 'Hall keeper',
                            'vcard' => "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Hall "
                                ."keeper\r\nTEL;VALUE=uri:tel:+44-7700-900-990\r\nEND:VCARD\r\n",
                        ],
                    ],
                ),
            ),
            $this->said(
                Kind::Text, 'https://hall.example/book', $other,
                content: new LinkPreview('https://hall.example/book', 'Book the hall', 'Saturdays from 9:00'),
            ),
            $this->said(
                Kind::CatalogueItem, null, $who, content: new CatalogueItem('H-250', 'Lime honey, 250 g', 650, 'GBP'),
            ),
            $this->said(
                Kind::Call, null, $who, content: new Call(true, CallOutcome::Answered, 754_000),
            ), $this->said(Kind::Call, null, null, content: new Call(false, CallOutcome::Missed, null)),
            $this->said(
                Kind::Video, 'The swarm, ten seconds of it', $other,
                attachments: [$this->files->film('swarm.mp4', 10_000)],
            ), $this->said(Kind::RoundNote, null, $who, attachments: [$this->files->film(null, 6_000)]),
            $this->said(
                Kind::Audio, null, $other, attachments: [$this->files->sound('The queen piping.wav')],
            ), $this->said(Kind::Sticker, null, $who, attachments: [$this->files->drawing('image/png')]), $this->said(
                Kind::Animation, null, null, attachments: [$this->files->drawing('image/gif')],
            ),
            $this->said(
                Kind::Photo, null, $who, attachments: [$this->files->photo()], viewOnce: ViewOnce::Unopened,
            ), $this->said(Kind::Photo, null, $other, viewOnce: ViewOnce::Opened),
            $this->said(
                Kind::Deleted, null, $other, content: new Deletion($other->key, $this->from + 5_000),
            ), $this->said(Kind::Deleted, null, $who, content: new Deletion($other->key, $this->from + 6_000)),
            $this->said(
                Kind::Text, 'This one is gone on Monday.', null, expiresAt: $this->from + 500 * 86_400_000,
            ), $this->said(
                Kind::Text, 'This one should have been gone long ago.', $who, expiresAt: $this->from - 86_400_000,
            ),
        ];
        if (Platform::Ios === $platform) {
            $list[] = $this->said(Kind::Text, 'We won!!', null, effect: 'paper lanterns');
            $list[] = $this->said(
                Kind::Photo, 'Look, it moves', $who,
                attachments: [$this->files->photo(), $this->files->film('motion.mp4', 2_500)->asMotion()],
            );
            $list[] = $this->said(
                Kind::Text, 'That was never true.', $other, replyTo: 'DELETED-0001',
                quote: new Quote($who->key, false, Kind::Text, 'The old boats were better.', $this->from - 9_000_000),
            );
        }
        foreach ([
            new Notice(NoticeKind::JoinedByLink, $other->key), new Notice(
                NoticeKind::UnmadeAdmin, $who->key, $other->key,
            ), new Notice(
                NoticeKind::AboutChanged, $who->key, null, 'Minutes are in the folder.',
            ), new Notice(NoticeKind::PictureChanged, $who->key),
            new Notice(NoticeKind::TimerChanged, $who->key, null, '604800'), new Notice(
                NoticeKind::KeysChanged, $other->key,
            ), new Notice(NoticeKind::Removed, $who->key, $other->key),
        ] as $notice) {
            $list[] = new Message(
                null, null, false, Kind::Notice, null, $this->tick(), null, DeliveryState::Seen, notice: $notice,
            );
        }

        return $list;
    }

    private function said(Kind $kind, ?string $text, ?Person $sender, mixed ...$more): Message
    {
        $time = $this->tick();
        $plain = new Message(
            sprintf('KIND-%04d', $this->number), $sender?->key, null === $sender, $kind, $text, $time,
            null === $sender ? null : $time + 400, null === $sender ? DeliveryState::Read : DeliveryState::Seen,
        );
        /** @var array<string, mixed> $more */

        return $plain->with($more);
    }

    private function tick(): int
    {
        return $this->from + ++$this->number * 1_000;
    }
}
