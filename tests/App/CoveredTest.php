<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\DBAL\Connection;
use Doctrine\ORM\EntityManagerInterface;
use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Content\Call;
use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\ContactCards;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Chat\Quote;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Chat\Receipt;
use Geschenk\Core\Chat\Source;
use Geschenk\Core\Files\Content\FolderFiles;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Platform;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;

/**
 * Covered means: nothing that was said or sent is in any answer. A mark is planted in every field of every kind, and
 * every answer is searched for it. What does show is written down in docs/security.md.
 */
final class CoveredTest extends ApiTestCase
{
    use Scratch;

    private const MARK = 'SECRETMARK';
    private const FRIEND = '+447700900801';

    public function testNoAnswerHoldsWhatIsCovered(): void
    {
        $this->signIn('orla');
        $tray = $this->openTray();
        $this->plant();
        $moves = "/api/trays/$tray/moves/1";
        $this->askAndWork($tray, ['kind' => 'backup']);
        $this->assertNothingShows($tray, false);
        $chats = $this->backupPath($tray);

        $this->askAndWork($tray, ['kind' => 'conversion']);
        $this->askAndWork($tray, ['kind' => 'restore', 'confirmed_tag' => "$tray-B"]);
        $database = new \SQLite3($this->receiving->data('otterpost').'/Pouch.sqlite');
        $database->exec('DELETE FROM ZSLIP WHERE Z_PK % 3 = 0; UPDATE ZSLIP SET ZBODY = ZBODY || ZBODY');
        $database->close();
        $this->askAndWork($tray, ['kind' => 'check']);
        self::assertGreaterThan(0, $this->value($this->call('GET', "$moves/arrival"), 'totals', 'missing'));
        $this->assertNothingShows($tray, true);

        // The search finds what is uncovered.
        $this->call('PUT', "$chats/conversations/1/uncovered");
        $this->browser->request('GET', "$chats/conversations/1/messages?uncovered=1");
        $shown = (string) $this->browser->getResponse()->getContent();
        self::assertGreaterThan(20, substr_count($shown, self::MARK));

        // Nothing of it stays open for who comes next, who covers it says so in the log.
        $this->call('DELETE', "$chats/conversations/1/uncovered");
        $this->call('DELETE', "$chats/conversations/1/uncovered");
        $this->assertNothingShows($tray, true);
        $this->call('PUT', "$chats/conversations/1/uncovered");
        $this->signIn('jette');
        $this->assertNothingShows($tray, true);
        $this->signIn('orla');
        $acts = array_count_values(array_filter(
            array_column((array) $this->call('GET', '/api/log')['entries'], 'act'), is_string(...),
        ));
        self::assertSame([2, 1], [$acts['uncovered'] ?? 0, $acts['covered'] ?? 0]);
    }

    public function testInAClosedTrayTheManagerUncoversAndSaysWhy(): void
    {
        $this->signIn();
        $tray = $this->openTray();
        $this->plant();
        $this->askAndWork($tray, ['kind' => 'backup']);
        $uncovered = "{$this->backupPath($tray)}/conversations/1/uncovered";
        $isOpen = fn (): bool => false === $this->call(
            'GET', "{$this->backupPath($tray)}/conversations/1/messages?uncovered=1",
        )['covered'];
        $this->call('PUT', $uncovered);
        self::assertTrue($isOpen());
        $connection = self::getContainer()->get(Connection::class);
        $connection->executeStatement("UPDATE tray SET closed_at = '2026-11-26 10:00:00'");
        self::getContainer()->get(EntityManagerInterface::class)->clear();
        self::assertFalse($isOpen(), 'what was uncovered before the hand-over is covered after it');
        $this->call('PUT', $uncovered, ['reason' => 'I want to'], 403);
        self::assertFalse($isOpen());

        $this->signIn('orla');
        foreach ([null, ['reason' => null], ['reason' => "  \t"]] as $body) {
            $this->call('PUT', $uncovered, $body, 422);
        }
        self::assertFalse($isOpen());
        $this->call('PUT', $uncovered, ['reason' => 'The customer asks for one date']);
        self::assertTrue($isOpen());
        $said = array_column((array) $this->call('GET', '/api/log?kind=look')['entries'], 'text', 'act');
        self::assertStringContainsString('The customer asks for one date', $this->text($said, 'uncovered_closed'));
    }

    private function assertNothingShows(int $tray, bool $isChecked): void
    {
        $moves = "/api/trays/$tray/moves/1";
        $chats = $this->backupPath($tray);
        $paths = [
            '/api/trays', "/api/trays/$tray", "/api/trays/$tray/readiness", '/api/phones', '/api/log',
            "$chats/conversations", "/trays/$tray/sheet", "$moves/losses", "$moves/arrival",
        ];
        for ($id = 1; $id <= 3; ++$id) {
            array_push(
                $paths, "$chats/conversations/$id/messages", "$chats/conversations/$id/messages?uncovered=1",
                "$chats/conversations/$id/place?day=2024-03-01", "$moves/arrival/$id",
                ...array_map(static fn (int $m): string => "$chats/conversations/$id/previews/$m", range(1, 30)),
            );
        }
        $seen = [];
        foreach ($paths as $path) {
            $this->browser->request('GET', $path);
            $answer = $this->browser->getResponse();
            $seen[$answer->getStatusCode()] = ($seen[$answer->getStatusCode()] ?? 0) + 1;
            $text = (string) $answer->getContent();
            self::assertStringNotContainsStringIgnoringCase(self::MARK, $text, $path);
            self::assertStringNotContainsString(base64_encode(self::MARK), $text, $path);
        }
        self::assertGreaterThan($isChecked ? 14 : 8, $seen[200] ?? 0);
        self::assertSame(0, $seen[500] ?? 0);
    }

    /** Puts the mark into all that was said and sent, on the giving phone. */
    private function plant(): void
    {
        $store = new StoreWriter($this->path('chats.sqlite'));
        $store->source(new Source('Otterpost', 'Otterpost', Platform::Android, 7, Phones::NUMBER, 'Test Person'));
        $store->person(new Person(self::FRIEND, self::FRIEND, 'Ada', null));
        foreach ([ConversationKind::Direct, ConversationKind::Group] as $n => $kind) {
            $id = $store->conversation(new Conversation(
                0 === $n ? self::FRIEND : 'raft-1', $kind, 0 === $n ? null : 'Crew', self::MARK.' about', 1, false,
                null, null, 3, null, [], ['elsewhere:detail' => self::MARK], null, self::MARK.' draft', false,
                "\xFF\xD8\xFF".self::MARK,
            ));
            $at = 1_709_290_000_000;
            foreach (Kind::cases() as $message) {
                $store->message($id, $this->message($message, $at += 1_000));
            }
        }
        $store->finish();
        $data = $this->giving->data('otterpost');
        Folder::remove($data);
        $writer = (new Formats())->writing('Otterpost', Platform::Android)?->writer() ?? self::fail();
        $writer->write(
            new ChatStore($this->path('chats.sqlite')), new FolderFiles($this->path('files')), $data, new NoProgress(),
        );
        DemoMaker::rest($data);
    }

    private function message(Kind $kind, int $at): Message
    {
        $file = "\xFF\xD8\xFF ".self::MARK.' '.$kind->value;
        Folder::make($this->path('files'));
        file_put_contents($this->path('files/'.$kind->value), $file);
        $content = match ($kind) {
            Kind::Place, Kind::LivePlace => new Place(1.0, 2.0, self::MARK.' place', self::MARK.' address', null),
            Kind::ContactCard => new ContactCards([['name' => self::MARK.' name', 'vcard' => 'FN:'.self::MARK]]),
            Kind::Poll => new Poll(false, null, [['text' => self::MARK.' answer', 'votes' => []]]),
            Kind::Call => new Call(true, CallOutcome::Missed, 1_000),
            Kind::CatalogueItem => new CatalogueItem(self::MARK.' article', self::MARK.' item', 1, self::MARK),
            Kind::Text => new LinkPreview(
                'https://example.invalid/'.self::MARK, self::MARK.' title', self::MARK.' summary',
            ),
            default => null,
        };

        return new Message(
            'W-'.$kind->value.$at, self::FRIEND, false, $kind, self::MARK.' text', $at, $at, DeliveryState::Seen,
            true, true, 'GONE-'.$at,
            Kind::Notice === $kind
                ? new Notice(NoticeKind::TitleChanged, self::FRIEND, null, self::MARK.' notice')
                : null,
            [new Attachment(
                $kind->value, self::MARK.'.jpg', 'image/jpeg', strlen($file), hash('sha256', $file), Presence::Present,
                null, 1, 1, "\xFF\xD8\xFF preview ".self::MARK,
            )],
            [new Reaction(self::FRIEND, self::MARK, $at)], [new Receipt(self::FRIEND, $at, $at, null)],
            ['elsewhere:detail' => self::MARK.' opaque'], $content, $at + 1, null, null,
            new Quote(self::FRIEND, false, Kind::Text, self::MARK.' quote', $at - 1), [], self::MARK.' effect',
        );
    }
}
