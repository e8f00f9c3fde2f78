<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\Content;
use Geschenk\Core\Chat\Content\Deletion;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Member;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Chat\ViewOnce;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Format;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Random\Engine\Mt19937;
use Random\Randomizer;

/** Chats for tests: hand-made ones, and random ones that hold every awkward value there is. */
final class Chats
{
    public const OWNER = '+447700900001';
    private const PEOPLE = ['+447700900002', '+447700900003', '+12025550100', 'raft-person', 'odd~handle'];

    /** @param callable(StoreWriter): mixed $fill */
    public static function store(
        string $path,
        callable $fill,
        string $platform = 'android',
        string $edition = 'Otterpost',
        string $messenger = 'Otterpost',
    ): ChatStore {
        $writer = new StoreWriter($path);
        $writer->source(new Source($messenger, $edition, Platform::from($platform), 7, self::OWNER, 'Owner'));
        $fill($writer);
        $writer->finish();

        return new ChatStore($path);
    }

    public static function text(string $text, int $sentAt = 1_700_000_000_000, ?string $wireId = null): Message
    {
        return new Message(
            $wireId, '+447700900002', false, Kind::Text, $text, $sentAt, $sentAt + 5, DeliveryState::Seen,
        );
    }

    public static function direct(string $key = '+447700900002'): Conversation
    {
        return new Conversation($key, ConversationKind::Direct, null, null, null, false, null, null, 0, null, []);
    }

    /** Writes a store in a format and reads it back. */
    public static function through(
        ChatStore $chats,
        string $files,
        Format $format,
        string $folder,
        string $back,
    ): ChatStore {
        $format->writer()?->write($chats, new FolderFiles($files), $folder, new NoProgress());
        $store = new StoreWriter($back);
        $format->reader()->read($folder, new FolderFiles($folder), $store, new NoProgress());
        $store->finish();

        return new ChatStore($back);
    }

    public static function format(string $platform): Format
    {
        return (new Formats())->writing('Otterpost', Platform::from($platform)) ?? throw new \LogicException($platform);
    }

    /**
     * Random chats of one seed, with their attachment files.
     *
     * @param string|null $for a platform: leaves out what it can't hold; null for everything
     */
    public static function random(
        int $seed,
        string $path,
        string $files,
        ?string $for,
        string $messenger = 'Otterpost',
    ): ChatStore {
        $chance = new Randomizer(new Mt19937($seed));
        $edition = self::pick($chance, ['Otterpost', 'Otterpost Counter']);

        return self::store($path, static function (StoreWriter $writer) use ($chance, $files, $for, $edition): void {
            foreach (self::PEOPLE as $n => $key) {
                $writer->person(
                    new Person(
                        $key, str_starts_with($key, '+') ? $key : null, 0 === $n % 2 ? 'Книга '.$n : null,
                        1 === $n ? "O'Name\n" : null, 2 === $n, 3 === $n ? ['020 7946 0999', "+44 \0?"] : [],
                        0 === $n ? '+12025550177' : null,
                    ),
                );
            }
            $labels = 'Otterpost' === $edition ? [] : ['New order', 'Zahlung offen', "odd \xFF"];
            foreach ($labels as $n => $label) {
                $writer->label(new Label($label, $n));
                $writer->cannedAnswer(new CannedAnswer('/'.$n, self::words($chance) ?? ''));
            }
            for ($c = 0, $rooms = $chance->getInt(1, 4); $c < $rooms; ++$c) {
                $id = $writer->conversation(self::randomConversation($chance, $c, $for, $labels));
                for ($m = 0, $count = $chance->getInt(0, 14); $m < $count; ++$m) {
                    $writer->message($id, self::randomMessage($chance, $files, $for));
                }
            }
        }, 'android', $edition, $messenger);
    }

    /**
     * @template T
     *
     * @param non-empty-list<T> $list
     *
     * @return T
     */
    private static function pick(Randomizer $chance, array $list): mixed
    {
        return $list[$chance->getInt(0, count($list) - 1)];
    }

    /** @param list<string> $labels */
    private static function randomConversation(Randomizer $chance, int $n, ?string $for, array $labels): Conversation
    {
        $kinds = [ConversationKind::Direct, ConversationKind::Group, ConversationKind::NotesToSelf];
        $kind = self::pick($chance, 'ios' === $for ? $kinds : [...$kinds, ConversationKind::Broadcast]);
        $members = [];
        foreach (array_slice(self::PEOPLE, 0, $chance->getInt(0, 4)) as $key) {
            $members[] = new Member(
                $key, self::pick($chance, MemberRole::cases()), self::time($chance), self::time($chance),
            );
        }

        return new Conversation(
            self::pick($chance, ['raft-', 'raft.01', '+4477009009']).$n, $kind, self::words($chance),
            self::words($chance), self::time($chance), self::coin($chance), self::pick($chance, [null, 1, 9]),
            self::pick($chance, [null, Conversation::MUTED_FOR_GOOD, 1_900_000_000_001]), $chance->getInt(0, 900),
            'ios' === $for ? null : self::pick($chance, [null, 'comb']), $members, self::opaque($chance),
            self::pick($chance, [null, 3600, 604_800]), self::words($chance), self::coin($chance), self::pick(
                $chance, [null, "\xFF\xD8\xFF\xE0 picture ".$chance->getBytes(4)],
            ),
            array_slice($labels, 0, $chance->getInt(0, 3)), null === $for && self::coin($chance),
        );
    }

    private static function randomMessage(Randomizer $chance, string $files, ?string $for): Message
    {
        $kind = self::pick($chance, Kind::cases());
        $fromOwner = self::coin($chance);
        $attachments = [];
        for ($a = 0, $count = $chance->getInt(0, 2); $a < $count; ++$a) {
            $attachments[] = self::attachment($chance, $files, 'android' !== $for && 1 === $a && self::coin($chance));
        }
        $receipts = [];
        foreach (array_slice(self::PEOPLE, 0, $chance->getInt(0, 3)) as $key) {
            $receipts[] = new Receipt(
                $key, self::time($chance), self::time($chance), 'ios' === $for ? null : self::time($chance),
            );
        }
        $text = self::words($chance);
        $reply = self::pick($chance, [null, 'A-1', 'GONE']);
        $withQuote = 'android' !== $for && 'GONE' === $reply && self::coin($chance);

        return new Message(
            self::pick($chance, [null, 'A-1', 'A-2', bin2hex($chance->getBytes(4))]), $fromOwner
                ? null
                : self::pick($chance, [...self::PEOPLE, null]), $fromOwner, $kind, $text,
            self::time($chance) ?? 0, self::time($chance), self::pick(
                $chance, DeliveryState::cases(),
            ), self::coin($chance), self::coin($chance), $reply,
            Kind::Notice === $kind
                ? new Notice(
                    self::pick($chance, NoticeKind::cases()), self::pick($chance, [null, ...self::PEOPLE]),
                    self::pick($chance, [null, ...self::PEOPLE]), self::words($chance),
                )
                : null,
            $attachments, [] === $attachments
                ? [
                    new Reaction(
                        self::pick($chance, [null, ...self::PEOPLE]), self::pick($chance, ['👍', '👩🏽‍🌾', 'ok']),
                        self::time($chance),
                    ),
                ]
                : [], $receipts, self::opaque($chance),
            self::content($chance, $kind), self::coin($chance) ? self::time($chance) : null, null === $for ? self::pick(
                $chance, [null, null, 1_000, 4_000_000_000_000],
            ) : self::pick($chance, [null, 4_000_000_000_000]),
            self::pick($chance, [null, null, ...ViewOnce::cases()]), $withQuote
                ? new Quote(
                    self::pick($chance, [null, ...self::PEOPLE]), self::coin($chance),
                    self::pick($chance, Kind::cases()), self::words($chance), self::time($chance),
                )
                : null,
            self::mentions($chance, $text), 'android' === $for ? null : self::pick($chance, [null, null, 'fireflies']),
        );
    }

    private static function content(Randomizer $chance, Kind $kind): ?Content
    {
        return match ($kind) {
            Kind::Place, Kind::LivePlace => new Place(
                self::pick($chance, [0.0, -89.999999999, 51.47, 1 / 3]), self::pick($chance, [-0.001, 179.9]),
                self::words($chance), self::words($chance), Kind::LivePlace === $kind ? self::time($chance) : null,
            ),
            Kind::ContactCard => new ContactCards(
                [
                    ['name' => self::words($chance), 'vcard' => "BEGIN:VCARD\r\nVERSION:4.0\r\nFN:A\r\nEND:VCARD\r\n"],
                    ['name' => null, 'vcard' => self::words($chance) ?? ''],
                ],
            ),
            Kind::Poll => new Poll(
                self::coin($chance), self::time($chance),
                [
                    [
                        'text' => self::words($chance) ?? '',
                        'votes' => [
                            ['who' => null, 'at' => self::time($chance)],
                            ['who' => self::pick($chance, self::PEOPLE), 'at' => null],
                        ],
                    ],
                    ['text' => 'none', 'votes' => []],
                ],
            ),
            Kind::Call => new Call(
                self::coin($chance), self::pick($chance, CallOutcome::cases()), self::pick($chance, [null, 0, 61_001]),
            ),
            Kind::CatalogueItem => new CatalogueItem(
                'A-7', self::words($chance) ?? '', self::pick($chance, [null, 1999]),
                self::pick($chance, [null, 'EUR']),
            ),
            Kind::Deleted => self::pick(
                $chance, [null, new Deletion(self::pick($chance, [null, ...self::PEOPLE]), self::time($chance))],
            ),
            Kind::Text => self::pick(
                $chance,
                [
                    null, null,
                    new LinkPreview('https://example.invalid/?a=1&b=2', self::words($chance), self::words($chance)),
                ],
            ),
            default => null,
        };
    }

    /** @return list<Mention> ranges of whole characters */
    private static function mentions(Randomizer $chance, ?string $text): array
    {
        if (null === $text || '' === $text || !mb_check_encoding($text, 'UTF-8') || self::coin($chance)) {
            return [];
        }
        $from = $chance->getInt(0, min(40, mb_strlen($text) - 1));
        $piece = mb_substr($text, $from, $chance->getInt(1, 5));

        return [new Mention(self::pick($chance, self::PEOPLE), strlen(mb_substr($text, 0, $from)), strlen($piece))];
    }

    private static function coin(Randomizer $chance): bool
    {
        return 1 === $chance->getInt(0, 1);
    }

    /** @return array<string, scalar|null> */
    private static function opaque(Randomizer $chance): array
    {
        return self::pick(
            $chance,
            [[], [], ['elsewhere:detail' => "bytes \xFF\x00", 'elsewhere:number' => 7, 'elsewhere:part' => 1.5]],
        );
    }

    private static function attachment(Randomizer $chance, string $files, bool $isMotion): Attachment
    {
        $name = self::pick(
            $chance,
            [
                null, 'plain.pdf', 'CON', 'a:b?*.pdf', "e\u{301}.txt", str_repeat('long', 80).'.bin',
                '../../etc/passwd', '.',
            ],
        );
        $preview = self::pick($chance, [null, "\xFF\xD8\xFF\xD9".$chance->getBytes(8)]);
        $presence = self::pick($chance, [Presence::Present, Presence::Present, Presence::Missing]);
        if (Presence::Missing === $presence) {
            return new Attachment(
                'nowhere/'.bin2hex($chance->getBytes(4)), $name, 'image/jpeg', 12, null, $presence, null, 10, 10,
                $preview, $isMotion,
            );
        }
        $bytes = 0 === $chance->getInt(0, 9) ? '' : $chance->getBytes($chance->getInt(1, 60));
        Folder::make($files);
        file_put_contents($files.'/'.hash('sha256', $bytes), $bytes);
        $isEmpty = '' === $bytes;

        return new Attachment(
            hash('sha256', $bytes), $name, self::pick(
                $chance, ['image/jpeg', 'audio/wav', 'x/unheard-of'],
            ), strlen($bytes), $isEmpty ? null : hash('sha256', $bytes), $isEmpty ? Presence::Empty : $presence,
            self::pick($chance, [null, 1, 61_234]), null, null, $preview, $isMotion,
        );
    }

    private static function time(Randomizer $chance): ?int
    {
        return self::pick(
            $chance,
            [
                null, 0, -1, -86_400_123, 978_307_200_000, 4_133_980_800_777, $chance->getInt(0, 2_000_000_000_000),
                -$chance->getInt(0, 3_000_000_000_000),
            ],
        );
    }

    private static function words(Randomizer $chance): ?string
    {
        return self::pick(
            $chance,
            [
                null, '', 'plain', " spaces \r\n\t", 'مرحبا 👨‍👩‍👧‍👦 e'."\u{301}", "NUL\0inside",
                "broken \xC3\x28\xF0\x9F", '<plist>&amp;]]>', str_repeat('long ', 2_000), "\u{FEFF}\u{202E}",
            ],
        );
    }
}
