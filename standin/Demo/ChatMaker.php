<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Store\StoreWriter;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Makes a customer's chats, the same ones for the same seed. */
final class ChatMaker
{
    /** 2026-11-20 16:40 UTC: the demonstration's last message is never newer. */
    public const NOW = 1_795_192_800_000;
    private const DAY = 86_400_000;
    private const FIRST_NAMES = [
        'Ada', 'Bjarne', 'Chidi', 'Dorota', 'Elif', 'Fionn', 'Greta', 'Hamid', 'Ilse', 'Jorun', 'Katya', 'Leopold',
        'Malia', 'Nkem', 'Odd', 'Priya', 'Quirin', 'Rosalind', 'Sander', 'Thandi', 'Ulla', 'Viktor', 'Wenche', 'Xanthe',
        'Yaw', 'Zofia', 'Ελένη', 'Олена', 'ليلى', '美咲',
    ];
    private const LAST_NAMES = [
        'Abegunde', 'Brekke', 'Castellan', 'Dunmore', 'Eriksrud', 'Falk', 'Grimsby', 'Haddad', 'Ivarsen', 'Jankowska',
        'Kellerhals', 'Lindqvist', 'Marrowby', 'Nilssen', 'Okafor', 'Pellegrin', 'Quayle', 'Rosendal', 'Skagen',
        'Tolland',
    ];
    private const LABELS = ['New order', 'Deposit paid', 'Tasting', 'Delivered 🎂'];
    private const SIGNS = ['👍', '❤️', '😂', '🐝', '🙏🏽', '👩‍🌾'];

    private readonly Randomizer $chance;
    private readonly Texts $texts;
    private readonly SampleFiles $files;
    /** @var list<Person> */
    private array $people = [];
    private int $wire = 0;
    /** Wire id of a message in the first group, for one elsewhere to answer. */
    private ?string $elsewhere = null;
    /** @var list<Attachment> photos that may be forwarded */
    private array $shared = [];

    public function __construct(private readonly Customer $customer, int $seed, string $poolFolder)
    {
        $this->chance = new Randomizer(new Mt19937($seed));
        $this->texts = new Texts($this->chance);
        $this->files = new SampleFiles($this->chance, $poolFolder, $customer->motif);
    }

    public function fill(StoreWriter $store): void
    {
        $store->source(
            new Source(
                'Otterpost', $this->customer->edition, $this->customer->platform, 7, $this->customer->number,
                $this->customer->name,
            ),
        );
        $this->makePeople($store);
        if (Otterpost::COUNTER === $this->customer->edition) {
            $this->business($store);
        }
        $groups = $this->customer->groups;
        $groupSlips = 0;
        $pin = 0;
        foreach ($groups as $index => $group) {
            $slips = intdiv($this->customer->slips * $group['share'], 100);
            $groupSlips += $slips;
            $this->group($store, $group, $slips, $index < 2 ? ++$pin : null, $index);
        }
        $this->rest($store, $this->customer->slips - $groupSlips);
    }

    private function rest(StoreWriter $store, int $slips): void
    {
        $directs = $this->customer->rooms - count($this->customer->groups) - ($this->customer->awkward ? 2 : 0);
        $weights = array_map(static fn (int $i): float => 1 / ($i + 1) ** 0.9, range(0, $directs - 1));
        foreach ($weights as $index => $weight) {
            $this->direct(
                $store, $this->people[$index % count($this->people)], $index,
                (int) round($slips * $weight / array_sum($weights)),
            );
        }
        if ($this->customer->awkward) {
            $members = array_map(
                static fn (Person $p): Member => new Member($p->key, MemberRole::Member, null, null),
                array_slice($this->people, 3, 18),
            );
            $list = $store->conversation(
                new Conversation(
                    'raft-b04dca57', ConversationKind::Broadcast, 'Newsletter recipients', null,
                    self::NOW - 900 * self::DAY, false, null, null, 0, null, $members,
                ),
            );
            foreach ($this->times(24, 700) as $time) {
                $store->message($list, $this->own($time, Kind::Text, $this->texts->talk('bees')));
            }
            $self = $store->conversation(
                new Conversation(
                    $this->customer->number, ConversationKind::NotesToSelf, null, null, null, false, null, null, 0,
                    null, [],
                ),
            );
            foreach ($this->times(40, 500) as $time) {
                $store->message($self, $this->own($time, Kind::Text, $this->texts->sentence('bees')));
            }
        }
    }

    private function business(StoreWriter $store): void
    {
        foreach (self::LABELS as $tint => $label) {
            $store->label(new Label($label, $tint));
        }
        foreach ([
            '/hours' => 'We bake Tuesday to Saturday, and answer in the evening.',
            '/deposit' => 'A third when you order, the rest on delivery. Thank you!',
            '/nuts' => 'Everything is made in one kitchen: nuts can’t be ruled out.',
        ] as $shortcut => $text) {
            $store->cannedAnswer(new CannedAnswer($shortcut, $text));
        }
    }

    /** @return list<string> */
    private function labels(int $index): array
    {
        return Otterpost::COUNTER === $this->customer->edition && 0 === $index % 3
            ? [self::LABELS[$index % 4], ...(0 === $index % 6 ? [self::LABELS[3]] : [])]
            : [];
    }

    private function makePeople(StoreWriter $store): void
    {
        $count = max($this->customer->rooms, 40);
        for ($i = 0; $i < $count; ++$i) {
            $number = $i < 700 ? sprintf('+4477009%05d', 500 + $i) : sprintf('+1202555%04d', 100 + $i % 100);
            if ($number === $this->customer->number) {
                continue;
            }
            $first = $this->texts->pick(self::FIRST_NAMES);
            $name = $first.' '.$this->texts->pick(self::LAST_NAMES);
            $person = new Person(
                $number, $number, $this->chance->getInt(1, 10) > 2 ? $name : null,
                $this->chance->getInt(1, 10) > 3 ? $first : null, 37 === $i,
                0 === $i % 9 ? ['020 7946 0'.(100 + $i)] : [], 6 === $i ? '+12025550141' : null,
            );
            $this->people[] = $person;
            $store->person($person);
        }
    }

    /** @param array{title: string, topic: string, share: int, people: int} $group */
    private function group(StoreWriter $store, array $group, int $slips, ?int $pin, int $index): void
    {
        $times = $this->times($slips, $this->age());
        $start = ($times[0] ?? self::NOW) - 3_600_000;
        $crowd = array_values(array_slice($this->people, $index * 3, $group['people']));
        $members = [];
        foreach ($crowd as $i => $person) {
            $left = $i > 4 && 0 === $i % 7 ? $start + 400 * self::DAY : null;
            $members[] = new Member($person->key, match (true) {
                0 === $i => MemberRole::Owner, 1 === $i => MemberRole::Admin, default => MemberRole::Member,
            }, $start + $i * 60_000, $left);
        }
        $key = 0 === $index % 2 ? sprintf('raft-%08x', 0x1A2B3C + $index * 7919) : sprintf('raft.01HB%022d', $index);
        $id = $store->conversation(
            new Conversation(
                $key, ConversationKind::Group, $group['title'],
                0 === $index ? 'Everything about the bees. Nothing about politics.' : null, $start, 8 === $index, $pin,
                2 === $index ? Conversation::MUTED_FOR_GOOD : (5 === $index ? self::NOW + 7 * self::DAY : null),
                0 === $index ? 7 : 0, 1 === $index ? 'comb-04' : null, $members, [], 4 === $index ? 604_800 : null,
                1 === $index ? 'Dear all, concerning the' : null, 3 === $index,
                $index < 3 ? $this->files->badge() : null, $this->labels($index),
            ),
        );
        $store->message(
            $id, $this->notice($start, new Notice(NoticeKind::Founded, $crowd[0]->key, null, $group['title'])),
        );
        foreach (array_slice($crowd, 1, 5) as $i => $person) {
            $store->message(
                $id,
                $this->notice($start + ($i + 1) * 60_000, new Notice(NoticeKind::Joined, $crowd[0]->key, $person->key)),
            );
        }
        $recent = [];
        foreach ($times as $n => $time) {
            if (0 === ($n + 1) % 400) {
                $store->message($id, $this->notice($time - 1, match (($n + 1) / 400 % 3) {
                    0 => new Notice(NoticeKind::Left, $crowd[$n % count($crowd)]->key),
                    1 => new Notice(NoticeKind::MadeAdmin, $crowd[0]->key, $crowd[1]->key),
                    default => new Notice(NoticeKind::TitleChanged, $crowd[1]->key, null, $group['title']),
                }));
            }
            $sender = $this->chance->getInt(1, 5) > 1 ? $crowd[$this->skewed(count($crowd))] : null;
            $store->message(
                $id, $this->remember($this->anything($time, $group['topic'], $sender, $crowd, $recent), $recent),
            );
        }
        if ([] !== $crowd && $index === min(2, count($this->customer->groups) - 1)) {
            foreach ((new Varieties($this->files, $crowd, self::NOW, $this->elsewhere ?? 'NEVER-WAS-02'))->messages(
                $this->customer->platform,
            ) as $message) {
                $store->message($id, $message);
            }
        }
        $this->elsewhere ??= $recent[0] ?? null;
    }

    private function direct(StoreWriter $store, Person $person, int $index, int $slips): void
    {
        $topic = $this->texts->pick($this->customer->topics);
        $times = $this->times($slips, max(30, (int) ($this->age() * $this->chance->getInt(15, 100) / 100)));
        $id = $store->conversation(
            new Conversation(
                $person->key, ConversationKind::Direct, null, null, $times[0] ?? null, $index > 12 && 0 === $index % 9,
                1 === $index ? 3 : null, 4 === $index ? Conversation::MUTED_FOR_GOOD : null,
                $index > 0 && 0 === $index % 11 ? 2 : 0, null,
                [new Member($person->key, MemberRole::Member, null, null)], [], 3 === $index ? 86_400 : null,
                2 === $index ? 'I’ll bring the' : null, 5 === $index, 1 === $index % 8 ? $this->files->badge() : null,
                $this->labels($index),
            ),
        );
        $recent = [];
        foreach ($times as $time) {
            $store->message(
                $id,
                $this->remember(
                    $this->anything(
                        $time, $topic, $this->chance->getInt(0, 1) > 0 ? $person : null, [$person], $recent,
                    ),
                    $recent,
                ),
            );
        }
        if (6 === $index) {
            $store->message(
                $id,
                $this->notice(
                    ($times[count($times) - 1] ?? self::NOW) + 1,
                    new Notice(NoticeKind::NumberChanged, $person->key, null, '+12025550142'),
                ),
            );
        }
    }

    /**
     * @param list<Person> $crowd
     * @param list<string> $recent wire ids
     */
    private function anything(int $time, string $topic, ?Person $sender, array $crowd, array $recent): Message
    {
        $dice = $this->chance->getInt(1, 1000);
        $mix = $this->customer->mix;
        $kind = match (true) {
            $dice <= $mix['photo'] => Kind::Photo,
            $dice <= $mix['photo'] + $mix['voice'] => Kind::Voice,
            $dice <= array_sum($mix) => Kind::Document,
            default => Kind::Text,
        };
        $forwarded = Kind::Photo === $kind && [] !== $this->shared && $this->chance->getInt(1, 9) > 8;
        $attachments = match ($kind) {
            Kind::Photo => [$forwarded ? $this->texts->pick($this->shared) : $this->files->photo()],
            Kind::Voice => [$this->files->voice()],
            Kind::Document => [
                $this->files->document(
                    $this->texts->pick(
                        [
                            'Minutes', 'Treatment record: oxalic acid', 'Invoice 2024/118', 'Timetable', 'Größenliste',
                            'Hive cards (all)',
                        ],
                    ),
                ),
            ],
            default => [],
        };
        if (Kind::Photo === $kind && !$forwarded && count($this->shared) < 40) {
            $this->shared[] = $attachments[0];
        }
        $text = match ($kind) {
            Kind::Text => $this->texts->talk($topic),
            Kind::Photo => $this->chance->getInt(0, 2) > 1 ? $this->texts->sentence($topic) : null,
            default => null,
        };
        $reply = [] !== $recent && $this->chance->getInt(1, 100) <= 9 ? $this->texts->pick($recent) : null;
        $message = null === $sender
            ? $this->own($time, $kind, $text, new Sent($attachments, $reply, $forwarded), $crowd)
            : new Message(
                $this->wireId(), $sender->key, false, $kind, $text, $time, $time + $this->chance->getInt(180, 90_000),
                $time > self::NOW - 2 * self::DAY ? DeliveryState::Received : DeliveryState::Seen,
                1 === $this->chance->getInt(1, 90), $forwarded, $reply, null, $attachments,
                $this->reactions($crowd, $time), [], [],
            );

        return $message;
    }

    /** @param list<Person> $crowd */
    private function own(
        int $time,
        Kind $kind,
        ?string $text,
        Sent $sent = new Sent(),
        array $crowd = [],
    ): Message {
        $receipts = [];
        foreach (array_slice($crowd, 0, 4) as $person) {
            $read = $this->chance->getInt(1, 4) > 1 ? $time + $this->chance->getInt(5_000, 9_000_000) : null;
            $receipts[] = new Receipt(
                $person->key, $time + $this->chance->getInt(300, 4_000), $read,
                Kind::Voice === $kind && null !== $read ? $read + 4_000 : null,
            );
        }
        $state = match ($this->chance->getInt(1, 60)) {
            1 => DeliveryState::Sent, 2, 3, 4 => DeliveryState::Delivered, 5 => 1 === $this->chance->getInt(1, 12)
                ? DeliveryState::Failed
                : DeliveryState::Read, default => DeliveryState::Read,
        };

        return new Message(
            $this->wireId(), null, true, $kind, $text, $time, null, $state, 1 === $this->chance->getInt(1, 120),
            $sent->isForwarded, $sent->reply, null, $sent->attachments, $this->reactions($crowd, $time), $receipts, [],
        );
    }

    private function notice(int $time, Notice $notice): Message
    {
        return new Message(null, null, false, Kind::Notice, null, $time, $time, DeliveryState::Seen, notice: $notice);
    }

    /**
     * @param list<Person> $crowd
     *
     * @return list<Reaction>
     */
    private function reactions(array $crowd, int $time): array
    {
        if ([] === $crowd || $this->chance->getInt(1, 100) > 7) {
            return [];
        }
        $reactions = [];
        foreach (array_slice(
            $crowd, $this->chance->getInt(0, max(0, count($crowd) - 3)), $this->chance->getInt(1, 3),
        ) as $person) {
            $reactions[] = new Reaction(
                $person->key, $this->texts->pick(self::SIGNS), $time + $this->chance->getInt(2_000, 600_000),
            );
        }

        return $reactions;
    }

    /**
     * @param list<string> $recent
     */
    private function remember(Message $message, array &$recent): Message
    {
        if (null !== $message->wireId) {
            $recent[] = $message->wireId;
            $recent = array_slice($recent, -12);
        }

        return $message;
    }

    private function wireId(): string
    {
        return sprintf('%08X-%06X', ++$this->wire, $this->chance->getInt(0, 0xFFFFFF));
    }

    private function age(): int
    {
        $isNew = 2026 === $this->customer->firstYear;
        $spread = $this->chance->getInt(0, 160) * ($isNew ? 0 : 1);

        return max(6, (2026 - $this->customer->firstYear) * 365 + 300 - $spread - ($isNew ? 294 : 0));
    }

    /**
     * Times in bursts, as people talk: in order, none newer than now.
     *
     * @return list<int>
     */
    private function times(int $count, int $days): array
    {
        $times = [];
        while (count($times) < $count) {
            $start = self::NOW - $this->chance->getInt(0, $days) * self::DAY - $this->chance->getInt(0, 14) * 3_600_000;
            for ($i = 0, $burst = $this->chance->getInt(1, 9); $i < $burst && count($times) < $count; ++$i) {
                $start += $this->chance->getInt(1_500, 420_000);
                $times[] = min($start, self::NOW - count($times) % 1000);
            }
        }
        sort($times);

        return $times;
    }

    /** Few people write most. */
    private function skewed(int $count): int
    {
        return min($count - 1, (int) floor($count * ($this->chance->getInt(0, 999) / 1000) ** 2));
    }
}
