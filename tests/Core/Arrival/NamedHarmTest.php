<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Arrival;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
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
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\ViewOnce;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Harms that have a name, each done to the data of the receiving phone: the check calls each by its name, in its
 * conversation, and finds nothing else. HarmTest does everything to everything; this says what it is called.
 */
final class NamedHarmTest extends TestCase
{
    use Scratch;

    private const ADA = '+447700900002';
    private const BOB = '+447700900003';
    private const START = 1_700_000_000_000;

    private static ?string $home = null;

    public static function tearDownAfterClass(): void
    {
        if (null !== self::$home) {
            Folder::remove(self::$home);
        }
        self::$home = null;
    }

    /** @return iterable<string, array{string, list<string>}> SQL over the phone's database, or a harm to a file */
    public static function harms(): iterable
    {
        $slip = static fn (string $id): string => "(SELECT slip_id FROM slip WHERE wire_id = '$id')";
        $set = static fn (string $id, string $what): string => "UPDATE slip SET $what WHERE wire_id = '$id'";
        $room = static fn (string $what): string => "UPDATE room SET $what WHERE handle LIKE 'raft-1~%'";
        $bob = "(SELECT folk_id FROM folk WHERE handle LIKE '+447700900003~%')";
        $ada = "(SELECT folk_id FROM folk WHERE handle LIKE '+447700900002~%')";
        $is = static fn (string ...$aspects): array => ['raft-1 missing different '.implode(',', $aspects)];
        $settings = static fn (string ...$names): array => ['raft-1 settings '.implode(',', $names)];
        $in = "room_id = (SELECT room_id FROM room WHERE handle LIKE 'raft-1~%')";
        $gone = ['raft-1 missing not_there'];

        // What was said, by whom and when.
        yield 'a message is gone' => ["DELETE FROM slip WHERE wire_id = 'W16'", $gone];
        yield 'the last message is gone' => ["DELETE FROM slip WHERE wire_id = 'W20'", $gone];
        yield 'the first message is gone' => ["DELETE FROM slip WHERE wire_id = 'W01'", $gone];
        yield 'a message without an id is gone' => ["DELETE FROM slip WHERE wire_id IS NULL AND body = 'no id'", $gone];
        yield 'a message is there twice' => [
            'INSERT INTO slip (room_id, wire_id, folk_id, mine, sort, body, sent_ms, landed_ms, stage, flags) SELECT '
                .'room_id, wire_id, folk_id, mine, sort, body, sent_ms, landed_ms, stage, flags FROM slip '
                ."WHERE wire_id = 'W16'",
            ['raft-1 extra not_expected'],
        ];
        yield 'a message that nobody sent' => [
            "INSERT INTO slip (room_id, wire_id, mine, sort, body, sent_ms, stage) SELECT room_id, 'X', 1, 10, 'x', "
                ."sent_ms, 60 FROM slip WHERE wire_id = 'W20'", ['raft-1 extra not_expected'],
        ];
        yield 'a text is another by one character' => [$set('W02', "body = 'Sea you at five'"), $is('text')];
        yield 'a text ends in a space more' => [$set('W02', "body = body || ' '"), $is('text')];
        yield 'a text is cut' => [$set('W02', 'body = substr(body, 1, 3)'), $is('text')];
        yield 'a text is gone' => [$set('W02', 'body = NULL'), $is('text')];
        yield 'a text is empty' => [$set('W02', "body = ''"), $is('text')];
        yield 'NFC became NFD' => [$set('W01', "body = 'Cafe' || char(0x301)"), $is('text')];
        yield 'a capital letter became small' => [$set('W02', 'body = lower(body)'), $is('text')];
        yield 'a line break is another' => [
            $set('W12', 'body = replace(body, char(10), char(13) || char(10))'),
            $is('text'),
        ];
        yield 'an emoji lost its tone' => [$set('W17', "body = '👩'"), $is('text')];
        yield 'a time is off by a millisecond' => [$set('W02', 'sent_ms = sent_ms + 1'), $is('sent_at')];
        yield 'a time is off by an hour' => [$set('W02', 'sent_ms = sent_ms - 3600000'), $is('sent_at')];
        yield 'a time lost its milliseconds' => [$set('W03', 'sent_ms = sent_ms / 1000 * 1000'), $is('sent_at')];
        yield 'a time of arrival is another' => [$set('W02', 'landed_ms = landed_ms + 1'), $is('received_at')];
        yield 'a time of arrival is gone' => [$set('W02', 'landed_ms = NULL'), $is('received_at')];
        yield 'a message is another person’s' => [$set('W02', "folk_id = $ada"), $is('sender')];
        yield 'a message is the owner’s' => [$set('W02', 'mine = 1, folk_id = NULL'), $is('sender')];
        yield 'an own message is somebody’s' => [$set('W01', "mine = 0, folk_id = $bob"), $is('sender')];
        yield 'a message is of another kind' => [$set('W16', 'sort = 40'), $is('kind')];
        yield 'a message lost its id' => [$set('W16', 'wire_id = NULL'), [
            'raft-1 missing not_there', 'raft-1 extra not_expected',
        ]];
        yield 'two messages are in the other order' => [
            "CREATE TEMP TABLE two AS SELECT wire_id, slip_id FROM slip WHERE wire_id IN ('W12', 'W13');"
                ."UPDATE slip SET slip_id = -slip_id WHERE wire_id IN ('W12', 'W13');"
                .'UPDATE slip SET slip_id = (SELECT slip_id FROM two WHERE two.wire_id <> slip.wire_id) '
                ."WHERE wire_id IN ('W12', 'W13')",
            ['raft-1 missing out_of_order order'],
        ];
        yield 'a message is delivered and was read' => [$set('W01', 'stage = 40'), $is('state')];
        yield 'a message failed and was read' => [$set('W01', 'stage = 99'), $is('state')];
        yield 'a star is lost' => [$set('W02', 'flags = 0'), $is('flags')];
        yield 'a star is there that nobody gave' => [$set('W16', 'flags = 3'), $is('flags')];
        yield 'a forwarded message is an own one' => [$set('W16', 'flags = 0'), $is('flags')];
        yield 'a reply is none' => [$set('W04', 'answers_wire_id = NULL'), $is('reply')];
        yield 'a reply answers another' => [$set('W04', "answers_wire_id = 'W16'"), $is('reply')];
        yield 'an edit is forgotten' => [$set('W11', 'edited_ms = NULL'), $is('edited_at')];
        yield 'an edit is of another time' => [$set('W11', 'edited_ms = edited_ms + 60000'), $is('edited_at')];
        yield 'a lifetime is forgotten' => [$set('W12', 'fades_ms = NULL'), $is('expires_at')];
        yield 'a lifetime is longer' => [$set('W12', 'fades_ms = fades_ms + 1000'), $is('expires_at')];
        yield 'what was seen once can be seen again' => [$set('W13', 'once = 0'), $is('view_once')];
        yield 'what was to be seen once stays' => [$set('W13', 'once = NULL'), $is('view_once')];

        // What hangs on a message.
        yield 'a reaction is lost' => ["DELETE FROM nod WHERE slip_id = {$slip('W17')}", $is('reactions')];
        yield 'a reaction is another' => ["UPDATE nod SET sign = '👎' WHERE slip_id = {$slip('W17')}", $is('reactions')];
        yield 'a reaction is another person’s' => [
            "UPDATE nod SET folk_id = $ada WHERE slip_id = {$slip('W17')}", $is('reactions'),
        ];
        yield 'a reaction is of another time' => [
            "UPDATE nod SET given_ms = given_ms + 1 WHERE slip_id = {$slip('W17')}", $is('reactions'),
        ];
        yield 'a reaction is there twice' => [
            "INSERT INTO nod SELECT * FROM nod WHERE slip_id = {$slip('W17')}", $is('reactions'),
        ];
        yield 'who read it is lost' => [
            "UPDATE mark SET read_ms = NULL WHERE slip_id = {$slip('W01')}",
            $is('receipts'),
        ];
        yield 'who got it is lost' => ["DELETE FROM mark WHERE slip_id = {$slip('W01')}", $is('receipts')];
        yield 'who is named is lost' => ["DELETE FROM mention WHERE slip_id = {$slip('W10')}", $is('mentions')];
        yield 'another is named' => [
            "UPDATE mention SET folk_id = $ada WHERE slip_id = {$slip('W10')}",
            $is('mentions'),
        ];
        yield 'a vote moved' => [
            "UPDATE ballot_vote SET place = 1 - place WHERE slip_id = {$slip('W05')}",
            $is('content'),
        ];
        yield 'a vote is lost' => [
            "DELETE FROM ballot_vote WHERE slip_id = {$slip('W05')} AND folk_id = $bob", $is('content'),
        ];
        yield 'a vote is another person’s' => [
            "UPDATE ballot_vote SET folk_id = $ada WHERE slip_id = {$slip('W05')} AND folk_id = $bob", $is('content'),
        ];
        yield 'a poll is closed' => ["UPDATE ballot SET closed_ms = 5 WHERE slip_id = {$slip('W05')}", $is('content')];
        yield 'a place lies elsewhere' => ['UPDATE spot SET north = north + 0.0001', $is('content')];
        yield 'a card is lost' => ["DELETE FROM card WHERE slip_id = {$slip('W07')} AND place = 1", $is('content')];
        yield 'a call was missed' => ['UPDATE ring SET outcome = 2', $is('content')];
        yield 'a call was longer' => ['UPDATE ring SET span_ms = span_ms + 1000', $is('content')];
        yield 'a price is another' => ['UPDATE offer SET price_minor = price_minor + 1', $is('content')];
        yield 'a link leads elsewhere' => ["UPDATE link SET url = url || '/'", $is('content')];
        yield 'who deleted it is another' => ["UPDATE withdrawn SET folk_id = $ada", $is('content')];
        yield 'a deleted message is there again' => [
            $set('W15', "sort = 10, body = 'again'"),
            $is('kind', 'text', 'content'),
        ];
        yield 'a notice tells of another' => [$set('W14', "notice_folk_id = $ada"), $is('notice')];

        // Files.
        yield 'a file is gone' => ['!gone', ['raft-1 missing attachment_not_there attachments']];
        yield 'a file is empty' => ['!empty', ['raft-1 missing attachment_different attachments']];
        yield 'a file is cut' => ['!cut', ['raft-1 missing attachment_different attachments']];
        yield 'a file is another by one bit' => ['!bit', ['raft-1 missing attachment_different attachments']];
        yield 'two files are exchanged' => ['!exchanged', [
            'raft-1 missing attachment_different attachments', 'raft-1 missing attachment_different attachments',
        ]];
        yield 'a file’s name is another' => [
            "UPDATE parcel SET shown_name = 'other.pdf' WHERE slip_id = {$slip('W19')}",
            ['raft-1 missing attachment_different attachments'],
        ];
        yield 'an attachment is forgotten' => [
            "DELETE FROM parcel WHERE slip_id = {$slip('W19')}", ['raft-1 missing attachment_not_there attachments'],
        ];
        yield 'an attachment hangs on another message' => [
            "UPDATE parcel SET slip_id = {$slip('W16')} WHERE slip_id = {$slip('W19')}", [
                'raft-1 missing attachment_different attachments', 'raft-1 missing attachment_not_there attachments',
            ],
        ];
        yield 'a preview is lost' => [
            "UPDATE parcel SET peek = NULL WHERE slip_id = {$slip('W03')}",
            ['raft-1 missing attachment_different attachments'],
        ];

        // The conversation.
        yield 'a conversation is called otherwise' => [$room("title = 'Quire'"), $settings('title')];
        yield 'a description is lost' => [$room('about = NULL'), $settings('about')];
        yield 'a conversation is archived' => [$room('shelved = 1'), $settings('archived')];
        yield 'a pin is lost' => [$room('pin_place = NULL'), $settings('pin_place')];
        yield 'the order of the pins is another' => [$room('pin_place = 3'), $settings('pin_place')];
        yield 'a conversation is no longer muted' => [$room('hush_until_ms = NULL'), $settings('muted_until')];
        yield 'unread messages are read' => [$room('unread = 0'), $settings('unread')];
        yield 'messages live for good' => [$room('fade_s = NULL'), $settings('timer_seconds')];
        yield 'a draft is lost' => [$room('draft = NULL'), $settings('draft')];
        yield 'a picture is lost' => [$room('picture = NULL'), $settings('picture')];
        yield 'a wallpaper is lost' => [$room('wallpaper = NULL'), $settings('wallpaper')];
        yield 'a label is off' => ['DELETE FROM room_label', $settings('labels')];
        yield 'a member is missing' => ["DELETE FROM room_folk WHERE $in AND folk_id = $bob", $settings('members')];
        yield 'an admin is none' => [
            "UPDATE room_folk SET rank = 0 WHERE $in AND folk_id = $ada",
            $settings('members'),
        ];
        yield 'a member has left' => [
            "UPDATE room_folk SET until_ms = 5 WHERE $in AND folk_id = $bob",
            $settings('members'),
        ];
        yield 'a conversation is gone' => [
            "DELETE FROM slip WHERE room_id = (SELECT room_id FROM room WHERE handle LIKE 'raft-2~%');"
                ."DELETE FROM room WHERE handle LIKE 'raft-2~%'",
            ['raft-2 missing not_there', 'raft-2 missing not_there'],
        ];
        yield 'a conversation is merged with another' => [
            "UPDATE slip SET room_id = (SELECT room_id FROM room WHERE handle LIKE 'raft-1~%') WHERE room_id = (SELECT "
                ."room_id FROM room WHERE handle LIKE 'raft-2~%'); DELETE FROM room WHERE handle LIKE 'raft-2~%'",
            [
                'raft-1 extra not_expected', 'raft-1 extra not_expected', 'raft-2 missing not_there',
                'raft-2 missing not_there',
            ],
        ];
        yield 'a conversation that nobody had' => [
            "INSERT INTO room (sort, handle, title) VALUES (2, 'raft-9~river', 'x')", ['raft-9 verdict extra'],
        ];

        // The account.
        yield 'a person is called otherwise' => [
            "UPDATE folk SET book_name = 'Eve' WHERE folk_id = $bob",
            ['person different'],
        ];
        yield 'a person’s own name is lost' => [
            "UPDATE folk SET own_name = NULL WHERE folk_id = $ada",
            ['person different'],
        ];
        yield 'a person is barred' => ["UPDATE folk SET barred = 1 WHERE folk_id = $bob", ['person different']];
        yield 'a person nobody knows' => [
            "INSERT INTO folk (handle, book_name) VALUES ('+447700900099~river', 'N')",
            ['person extra'],
        ];
        yield 'a label is called otherwise' => [
            "UPDATE label SET name = 'Red'",
            ['label different', 'raft-1 settings labels'],
        ];
        yield 'a ready-made answer is lost' => ['DELETE FROM canned', ['canned_answer missing']];
        yield 'the owner is called otherwise' => [
            "UPDATE holt SET value = 'x' WHERE name = 'own_name'",
            ['account_name different'],
        ];
    }

    /** @param list<string> $names */
    #[DataProvider('harms')]
    public function testItIsCalledByItsName(string $harm, array $names): void
    {
        [$phone, $expected] = self::ground();
        $work = $this->path('work');
        exec(sprintf('cp -a %s %s', escapeshellarg($phone), escapeshellarg($work)));
        self::harm($work, $harm);
        $back = new StoreWriter($this->path('back.sqlite'));
        Chats::format('android')->reader()->read(
            $work, new FolderFiles($work), $back, new NoProgress(),
        );
        $back->finish();
        $result = (new Comparison(new ChatStore($expected), new ChatStore($this->path('back.sqlite'))))->run(
            $this->path('result.sqlite'), new NoProgress(),
        );
        $found = [];
        foreach ($result->accountDifferences() as $one) {
            $found[] = $one['what'].' '.$one['how'];
        }
        foreach ($result->conversations() as $row) {
            foreach ($result->findings($row['id']) as $one) {
                $found[] = rtrim(sprintf(
                    '%s %s %s %s', $row['key'], $one['account'], $one['reason'], implode(',', $one['aspects']),
                ));
            }
            if ([] !== $row['settings']) {
                $found[] = $row['key'].' settings '.implode(',', $row['settings']);
            }
            if ('extra' === $row['verdict'] && 0 === $row['extra']) {
                $found[] = $row['key'].' verdict extra';
            }
        }
        sort($found);
        sort($names);
        self::assertSame($names, $found);
        self::assertSame([] === $names, $result->totals()->complete());
    }

    public function testThereAreEnough(): void
    {
        self::assertGreaterThan(90, iterator_count((static fn () => yield from self::harms())()));
    }

    private static function harm(string $folder, string $harm): void
    {
        if (!str_starts_with($harm, '!')) {
            $database = new \SQLite3($folder.'/pouch.db');
            $database->enableExceptions(true);
            $database->exec($harm);
            self::assertGreaterThan(0, $database->changes(), 'There was nothing to harm.');
            $database->close();

            return;
        }
        $files = array_values(array_filter(
            iterator_to_array(Folder::files($folder.'/parcels'), false),
            static fn (string $f): bool => filesize("$folder/parcels/$f") > 3,
        ));
        [$one, $other] = ["$folder/parcels/$files[0]", "$folder/parcels/$files[1]"];
        $bytes = (string) file_get_contents($one);
        match ($harm) {
            '!gone' => unlink($one),
            '!empty' => file_put_contents($one, ''),
            '!cut' => file_put_contents($one, substr($bytes, 0, -1)),
            '!bit' => file_put_contents($one, substr_replace($bytes, chr(ord($bytes[2]) ^ 1), 2, 1)),
            default => rename($one, "$one.x") && rename($other, $one) && rename("$one.x", $other),
        };
    }

    /** @return array{string, string} the phone's data, and what was meant to arrive */
    private static function ground(): array
    {
        if (null === self::$home) {
            self::$home = sys_get_temp_dir().'/geschenk-named-'.bin2hex(random_bytes(4));
            Folder::make(self::$home.'/files');
            $chats = Chats::store(
                self::$home.'/expected.sqlite', self::fill(...), edition: 'Otterpost Counter',
            );
            Chats::through(
                $chats, self::$home.'/files', Chats::format('android'), self::$home.'/phone',
                self::$home.'/back.sqlite',
            );
        }

        return [self::$home.'/phone', self::$home.'/expected.sqlite'];
    }

    private static function fill(StoreWriter $w): void
    {
        $w->person(new Person(self::ADA, self::ADA, 'Ada', 'ada', false, ['020 7946 0999']));
        $w->person(new Person(self::BOB, self::BOB, 'Bob', null));
        $w->label(new Label('Green', 1));
        $w->cannedAnswer(new CannedAnswer('/hi', 'Good day'));
        $members = [
            new Member(self::ADA, MemberRole::Admin, self::START, null),
            new Member(self::BOB, MemberRole::Member, self::START, null),
        ];
        $group = $w->conversation(new Conversation(
            'raft-1', ConversationKind::Group, 'Choir', 'We sing', self::START, false, 1,
            Conversation::MUTED_FOR_GOOD, 2, 'comb', $members, [], 3600, 'Dear all', false,
            "\xFF\xD8\xFF\xE0 choir", ['Green'],
        ));
        foreach (self::messages() as $message) {
            $w->message($group, $message);
        }
        $other = $w->conversation(new Conversation(
            'raft-2', ConversationKind::Group, 'Altos', null, null, false, 2, null, 0, null, $members,
        ));
        $w->message($other, Chats::text('one', self::START + 50_000, 'O1'));
        $w->message($other, Chats::text('two', self::START + 51_000, 'O2'));
        $w->message($w->conversation(Chats::direct(self::ADA)), Chats::text('hello', self::START, 'D1'));
    }

    /** @return list<Message> */
    private static function messages(): array
    {
        $file = static function (string $name, string $bytes, string $type, ?string $preview = null): Attachment {
            file_put_contents(self::$home.'/files/'.$name, $bytes);

            return new Attachment(
                $name, $name, $type, strlen($bytes), hash('sha256', $bytes), Presence::Present, preview: $preview,
            );
        };
        $say = static fn (int $n, Kind $kind, ?string $text, mixed ...$more): Message => (new Message(
            sprintf('W%02d', $n), 1 === $n % 2 && 3 !== $n ? null : self::BOB, 1 === $n % 2 && 3 !== $n, $kind, $text,
            self::START + $n * 1_000 + 7, 0 === $n % 2 ? self::START + $n * 1_000 + 90 : null,
            1 === $n % 2 && 3 !== $n ? DeliveryState::Read : DeliveryState::Seen,
        ))->with(self::named($more));

        return [
            $say(1, Kind::Text, "Caf\u{e9}", ...['receipts' => [new Receipt(self::BOB, 5, 6, null)]]),
            $say(2, Kind::Text, 'See you at five', ...['starred' => true]),
            $say(3, Kind::Photo, null, ...[
                'attachments' => [$file('p.jpg', "\xFF\xD8\xFF\xE0 a photo", 'image/jpeg', "\xFF\xD8\xFF\xD9 small")],
            ]),
            $say(4, Kind::Text, 'yes', ...['replyTo' => 'W02']),
            $say(5, Kind::Poll, 'When?', ...['content' => new Poll(false, null, [
                ['text' => 'five', 'votes' => [['who' => self::BOB, 'at' => 9]]],
                ['text' => 'six', 'votes' => [['who' => null, 'at' => 8]]],
            ])]),
            $say(6, Kind::Place, null, ...['content' => new Place(51.47, -0.1, 'Hall', null, null)]),
            $say(7, Kind::ContactCard, null, ...['content' => new ContactCards([
                ['name' => 'A', 'vcard' => 'BEGIN:VCARD'], ['name' => 'B', 'vcard' => 'BEGIN:VCARD'],
            ])]),
            $say(8, Kind::Call, null, ...['content' => new Call(false, CallOutcome::Answered, 61_000)]),
            $say(9, Kind::CatalogueItem, null, ...['content' => new CatalogueItem('A-7', 'Honey', 499, 'EUR')]),
            $say(10, Kind::Text, '@Bob look', ...['mentions' => [new Mention(self::BOB, 0, 4)]]),
            $say(11, Kind::Text, 'better', ...['editedAt' => self::START + 99_000]),
            $say(12, Kind::Text, "soon\ngone", ...['expiresAt' => 4_000_000_000_000]),
            $say(13, Kind::Text, 'once', ...['viewOnce' => ViewOnce::Opened]),
            $say(14, Kind::Notice, null, ...['notice' => new Notice(NoticeKind::Joined, self::BOB, null, null)]),
            $say(15, Kind::Deleted, null, ...['content' => new Deletion(self::BOB, 77)]),
            $say(16, Kind::Text, 'passed on', ...['forwarded' => true]),
            $say(17, Kind::Text, "\u{1F469}\u{1F3FD}", ...['reactions' => [new Reaction(self::BOB, '👍', 55)]]),
            $say(18, Kind::Text, 'https://example.invalid', ...[
                'content' => new LinkPreview('https://example.invalid', 'T', 'S'),
            ]),
            $say(19, Kind::Document, null, ...[
                'attachments' => [$file('d.pdf', '%PDF-1.7 a score', 'application/pdf')],
            ]),
            new Message(
                null, self::BOB, false, Kind::Text, 'no id', self::START + 19_500, null, DeliveryState::Seen,
            ),
            $say(20, Kind::Text, 'last'),
        ];
    }

    /**
     * @param array<array-key, mixed> $more
     *
     * @return array<string, mixed>
     */
    private static function named(array $more): array
    {
        $named = [];
        foreach ($more as $name => $value) {
            $named[(string) $name] = $value;
        }

        return $named;
    }
}
