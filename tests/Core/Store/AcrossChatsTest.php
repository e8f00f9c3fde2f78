<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Store;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Store\AcrossChats;
use Geschenk\Core\Store\ByKind;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class AcrossChatsTest extends TestCase
{
    use Scratch;

    public function testAKindIsGatheredFromAllConversationsTheNewestFirstAndPageByPage(): void
    {
        $chats = $this->store(static function (StoreWriter $w): void {
            foreach (['+447700900002', '+447700900003'] as $n => $key) {
                $id = $w->conversation(Chats::direct($key));
                for ($i = 0; $i < 5; ++$i) {
                    $w->message($id, self::message(Kind::Photo, "p$n$i", 1000 * $i + $n));
                    $w->message($id, self::message(Kind::Video, "v$n$i", 1000 * $i + $n));
                }
                // Two at the same time: neither is skipped, whichever page ends between them.
                $w->message($id, self::message(Kind::Animation, "a$n", 2000 + $n));
            }
        });
        $across = new AcrossChats($chats);
        self::assertSame([12, 10, 0], [
            $across->count(ByKind::Photos), $across->count(ByKind::Videos), $across->count(ByKind::Links),
        ]);
        $whole = self::texts($across->page(ByKind::Photos, null, 100));
        self::assertSame(['p14', 'p04', 'p13', 'p03', 'a1', 'p12', 'a0', 'p02', 'p11', 'p01', 'p10', 'p00'], $whole);
        foreach ([1, 2, 5] as $size) {
            $paged = [];
            $behind = null;
            do {
                $page = $across->page(ByKind::Photos, $behind, $size);
                $paged = [...$paged, ...self::texts($page)];
                $behind = [] === $page ? null : $page[count($page) - 1]['message']->id;
            } while (null !== $behind);
            self::assertSame($whole, $paged, "pages of $size");
        }
    }

    /** @return iterable<string, array{Message, ByKind|null}> */
    public static function kinds(): iterable
    {
        yield 'a voice note' => [self::message(Kind::Voice, null), ByKind::Voice];
        yield 'a round note' => [self::message(Kind::RoundNote, null), ByKind::Videos];
        yield 'a document' => [self::message(Kind::Document, null), ByKind::Documents];
        yield 'a live place' => [self::message(Kind::LivePlace, null), ByKind::Places];
        yield 'a link in a text' => [self::message(Kind::Text, 'see HTTPS://pier.example/3'), ByKind::Links];
        yield 'a link with a preview' => [
            new Message(
                null, null, true, Kind::Text, 'pier.example', 1, null, DeliveryState::Sent,
                content: new LinkPreview('pier.example', null, null),
            ), ByKind::Links,
        ];
        yield 'a text' => [self::message(Kind::Text, 'no "sort":"link" here, http:/x'), null];
        yield 'what was deleted' => [self::message(Kind::Deleted, 'https://gone.example'), null];
    }

    #[DataProvider('kinds')]
    public function testEachMessageIsOfOneKindOrNone(Message $message, ?ByKind $kind): void
    {
        $across = new AcrossChats($this->store(static function (StoreWriter $w) use ($message): void {
            $w->message($w->conversation(Chats::direct()), $message);
        }));
        $of = array_values(array_filter(ByKind::cases(), static fn (ByKind $k): bool => 1 === $across->count($k)));
        self::assertSame(null === $kind ? [] : [$kind], $of);
    }

    /** @return iterable<string, array{string, string, list<string>}> words, text, its parts: hits in brackets */
    public static function written(): iterable
    {
        yield 'whatever the case' => ['TIDE', 'The tide, the Tide!', ['The ', '[tide]', ', the ', '[Tide]', '!']];
        yield 'other letters too' => ['ÄPFEL', 'zwei äpfel', ['zwei ', '[äpfel]']];
        yield 'accents made of two' => ['café', "le cafe\u{301} noir", ['le ', '[café]', ' noir']];
        yield 'asked for made of two' => ["cafe\u{301}", 'le café', ['le ', '[café]']];
        yield 'what means something to SQL' => ['100%_\\', 'now 100%_\\ sure', ['now ', '[100%_\\]', ' sure']];
        yield 'quotes' => ["o'clock\"", "two o'clock\"", ['two ', "[o'clock\"]"]];
        yield 'behind a NUL' => ['tide', "a\0 b Tide", ["a\0 b ", '[Tide]']];
        yield 'behind a NUL, in other letters' => ['ebbe ä', "\0Ebbe Ä", ["\0", '[Ebbe Ä]']];
        yield 'at the end of a long text' => [
            'harbour', str_repeat('x', 5000).' harbour', ['…', str_repeat('x', 79).' ', '[harbour]'],
        ];
        yield 'in the middle of one' => [
            'harbour', 'harbour'.str_repeat('y', 200), ['[harbour]', str_repeat('y', 80).'…'],
        ];
    }

    /** @param list<string> $parts */
    #[DataProvider('written')]
    public function testWordsAreFoundAndMarked(string $words, string $text, array $parts): void
    {
        $across = new AcrossChats($this->store(static function (StoreWriter $w) use ($text): void {
            $id = $w->conversation(Chats::direct());
            $w->message($id, Chats::text('nothing of it'));
            $w->message($id, Chats::text($text));
        }));
        $found = $across->find($words, null, 10)['found'];
        self::assertCount(1, $found);
        self::assertSame($parts, array_map(
            static fn (array $part): string => $part['hit'] ? "[$part[text]]" : $part['text'], $found[0]['parts'],
        ));
    }

    public function testWhatStandsBesideTheTextIsFoundTooAndWhatTheStoreCallsItIsNot(): void
    {
        $card = ['name' => 'Ada Lantern', 'vcard' => "BEGIN:VCARD\nFN:Nobody Else\nEND:VCARD"];
        $across = new AcrossChats($this->store(static function (StoreWriter $w) use ($card): void {
            $id = $w->conversation(Chats::direct());
            foreach ([
                [Kind::Place, new Place(1.0, 2.0, 'Pier 3 Lantern', null, null)],
                [Kind::ContactCard, new ContactCards([$card])],
                [Kind::Poll, new Poll(false, null, [['text' => 'say "lantern" \\ or not', 'votes' => []]])],
                [Kind::Text, new LinkPreview('https://l.example', 'Lantern shop', null)],
            ] as $n => [$kind, $content]) {
                $w->message($id, new Message(
                    "W$n", null, true, $kind, null, 10 + $n, null, DeliveryState::Sent, content: $content,
                ));
            }
            $w->message($id, new Message(
                'F', null, true, Kind::Document, null, 20, null, DeliveryState::Sent, attachments: [
                    new Attachment('media/x', 'lantern.pdf', 'application/pdf', 3, null, Presence::Refused),
                ],
            ));
        }));
        self::assertCount(5, $across->find('lantern', null, 10)['found']);
        $asWritten = $across->find('say "LANTERN" \\', null, 10)['found'];
        self::assertCount(1, $asWritten, 'As it is written, not as it is kept.');
        foreach (['link_preview', 'sort', 'answers', 'vcard', 'Nobody'] as $word) {
            self::assertSame([], $across->find($word, null, 10)['found'], $word);
        }
    }

    public function testHitsComePageByPageAndNoneIsLost(): void
    {
        $across = new AcrossChats($this->store(static function (StoreWriter $w): void {
            foreach (['+447700900002', '+447700900003'] as $key) {
                $id = $w->conversation(Chats::direct($key));
                for ($i = 0; $i < 25; ++$i) {
                    $w->message($id, Chats::text(0 === $i % 2 ? "tide $key $i" : "ebb $i", 1000 + $i % 5));
                }
            }
        }));
        $all = self::texts($across->find('tide', null, 100)['found']);
        self::assertCount(26, $all);
        $paged = [];
        $behind = null;
        do {
            ['found' => $found, 'behind' => $behind] = $across->find('tide', $behind, 7);
            self::assertLessThanOrEqual(7, count($found));
            $paged = [...$paged, ...self::texts($found)];
        } while (null !== $behind);
        self::assertSame($all, $paged);
    }

    /**
     * @param list<array{message: \Geschenk\Core\Store\StoredMessage, ...}> $page
     *
     * @return list<string|null>
     */
    private static function texts(array $page): array
    {
        return array_map(static fn (array $one): ?string => $one['message']->message->text, $page);
    }

    private static function message(Kind $kind, ?string $text, int $sentAt = 1_700_000_000_000): Message
    {
        return new Message(null, null, true, $kind, $text, $sentAt, null, DeliveryState::Sent);
    }

    /** @param callable(StoreWriter): void $fill */
    private function store(callable $fill): ChatStore
    {
        return Chats::store($this->path('chats.sqlite'), $fill);
    }
}
