<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Customer;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\Clock\MachineTime;
use Geschenk\App\Clock\ShopClock;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Log\LogChain;
use Geschenk\App\RecordsCopy;
use Geschenk\App\Shop;
use Geschenk\App\Work\Erasing;
use Geschenk\App\Work\Forgetting;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Stick\FolderStick;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Machine;
use Geschenk\Tests\Support\Phones;
use Symfony\Component\Clock\Clock;
use Symfony\Component\Clock\MockClock;

/** Of whom nothing is kept, nothing is known: no name, no number, no word about them stands in the shop's records. */
final class ForgettingTest extends ApiTestCase
{
    private const NAME = 'Quillaya Ostrander';
    private const CONTACT = 'the blue boathouse';

    private MockClock $clock;
    private Machine $machine;

    protected function setUp(): void
    {
        parent::setUp();
        $this->machine = new Machine();
        self::getContainer()->set(MachineTime::class, $this->machine);
        $this->clock = new MockClock('2026-11-26 10:00:00', 'UTC');
        Clock::set($this->clock);
        $this->signIn();
    }

    public function testNothingOfWhoItWasStandsInTheRecordsAfterwards(): void
    {
        [$n, $customer] = $this->backedUp();
        $backup = $this->backup($n);
        $this->call('PUT', "/api/backups/$backup->id/note", ['text' => 'asked for by the old lighthouse']);
        $this->call('PUT', "/api/trays/$n/customer", [
            'customer' => self::NAME.' of Pier', 'contact' => self::CONTACT, 'language' => 'de',
        ]);
        $with = $this->takenHome($backup->id);
        $this->handOver($n);
        $copy = Folder::make(self::getContainer()->get(DataFolder::class)->copies()).'/20261126-100000.sqlite';
        self::getContainer()->get(RecordsCopy::class)->make($copy);
        $words = [self::NAME, 'Quillaya', 'boathouse', 'lighthouse', $backup->account];
        foreach ($words as $word) {
            self::assertNotSame([], $this->tablesWith($word), $word);
        }
        self::assertSame([], $this->tablesWith('Quillaya', 'log_entry'), 'Nobody can take a line out of it.');
        self::assertNotSame([], $this->tablesWith($with));
        $said = (string) json_encode($this->log());
        self::assertStringContainsString(self::NAME.' of Pier', $said);
        $this->erase($n);
        self::assertSame([], $this->tablesWith($with), 'With whom they wrote goes with the chats.');
        $page = $this->call('GET', "/api/customers/$customer");
        self::assertSame([self::NAME.' of Pier', '2027-05-25', null], [
            $page['name'], substr($this->text($page, 'forgets_at'), 0, 10), $page['forgotten_at'],
        ]);
        Folder::remove($this->giving->path);
        Folder::remove($this->receiving->path);
        $this->watch();
        $this->pass(Shop::FORGET_DAYS * 86_400 - 7_200);
        $this->live(3_600);
        self::assertNotSame([], $this->tablesWith(self::NAME), 'Not before it is time.');
        self::assertFileDoesNotExist($copy, 'What it was made for is long over.');
        $this->live(14_400);
        foreach ($words as $word) {
            self::assertSame([], $this->tablesWith($word), $word);
        }
        self::assertSame([], array_intersect(['phone', 'holding'], $this->tablesWith(Phones::GIVING)));
        $this->assertItIsNobodys($n, $customer);
    }

    public function testOfAWholeMoveNothingStaysOfWithWhomTheyWrote(): void
    {
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['conversations' => [2]]);
        $conversation = '/api/backups/'.$this->backup($n)->id.'/conversations/1';
        $this->call('PUT', "$conversation/uncovered");
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $backup = $this->backup($n);
        $chats = self::getContainer()->get(Vault::class)->open($backup->id)->chats();
        $words = [];
        foreach ($chats->connect()->rows(<<<'SQL'
            SELECT key AS word FROM person UNION SELECT number FROM person UNION SELECT book_name FROM person
            UNION SELECT own_name FROM person UNION SELECT key FROM conversation
            SQL) as $row) {
            $words[] = $row->nullableText('word') ?? '';
        }
        $words = array_values(array_filter($words, static fn (string $word): bool => strlen($word) > 4));
        self::assertGreaterThan(10, count($words));
        $this->handOver($n);
        $stand = fn (string $word): bool => [] !== [...$this->tablesWith($word), ...$this->tablesWith(bin2hex($word))];
        self::assertNotSame([], array_filter($words, $stand), 'Some do until then: what was chosen and uncovered.');
        $this->erase($n);
        foreach ($words as $word) {
            if ($backup->account !== $word) {
                self::assertSame([], $this->tablesWith($word), $word);
                self::assertSame([], $this->tablesWith(bin2hex($word)), $word);
            }
        }
        Folder::remove($this->giving->path);
        Folder::remove($this->receiving->path);
        $this->watch();
        $this->pass(Shop::FORGET_DAYS * 86_400);
        $this->live(14_400);
        self::assertSame([], $this->tablesWith($backup->account));
        self::assertSame([], $this->tablesWith('Test Person'));
    }

    public function testWhoeverComesAgainOrHasSomethingHereIsKnown(): void
    {
        [$n, $customer] = $this->backedUp();
        $kept = $this->backup($n);
        $this->handOver($n);
        $this->call('PUT', "/api/backups/$kept->id/keeping", ['keep_until' => '2027-09-01']);
        $this->pass(40 * 86_400);
        $this->live(7 * 3_600);
        self::getContainer()->get(Erasing::class)->do($n);
        $this->pass((Shop::FORGET_DAYS + 1) * 86_400);
        $this->live(7 * 3_600);
        $this->assertIsKnown($customer, 'One backup is kept longer.');
        $this->call('POST', "/api/backups/$kept->id/erase", ['number' => (string) $n], 202);
        self::getContainer()->get(Erasing::class)->doBackup($kept->id);
        $this->pass(100 * 86_400);
        $this->signIn();
        $again = $this->call('POST', '/api/trays', [
            'known' => $customer, 'customer' => self::NAME, 'contact' => self::CONTACT, 'consent' => true,
            'errand' => 'only_back_up', 'giving' => Phones::GIVING,
        ], 201)['number'];
        self::assertIsInt($again);
        $this->pass((Shop::FORGET_DAYS + 1) * 86_400);
        $this->live(7 * 3_600);
        $this->assertIsKnown($customer, 'A tray of theirs is open.');
        $this->call('POST', "/api/trays/$again/withdraw", ['number' => (string) $again, 'keep' => false]);
        self::getContainer()->get(Erasing::class)->do($again);
        $this->clock->modify('+400 days');
        $this->live(7 * 3_600);
        $this->assertIsKnown($customer, 'A clock that has jumped tells nothing.');
        $this->signIn('orla');
        $this->call('POST', '/api/clock/confirm');
        $this->live(3_600);
        $this->assertIsKnown($customer, 'Not by one look at the clock.');
        $this->live(14_400);
        $this->signIn();
        self::assertNotNull($this->call('GET', "/api/customers/$customer")['forgotten_at']);
    }

    public function testOfWhomSomethingWasImportedNothingIsLeftEither(): void
    {
        $drawer = self::getContainer()->get(DataFolder::class)->path.'/standin/sticks';
        $stick = FolderStick::make($drawer.'/blue', 'Blue', 900_000_000, true);
        $this->layPhones();
        $asked = ['customer' => self::NAME, 'contact' => self::CONTACT, 'consent' => true, 'language' => 'en'];
        $zip = new \ZipArchive();
        $zip->open($stick->folder().'/of Quillaya.zip', \ZipArchive::CREATE);
        // A name in it that is told where it fails.
        $zip->addFromString('../Quillaya.jsonl', 'x');
        $zip->close();
        $this->call('POST', '/api/imports', $asked + ['stick' => 'blue', 'path' => 'of Quillaya.zip'], 202);
        $this->work();
        $of = $this->value($this->call('GET', '/api/imports'), 'imports', 0, 'customer_id');
        self::assertIsInt($of);
        self::assertSame('failed', $this->value($this->call('GET', '/api/imports'), 'imports', 0, 'run', 'state'));
        $this->pass((Shop::FORGET_DAYS - 1) * 86_400);
        $this->live(7 * 3_600);
        $this->assertIsKnown($of, 'They may come again, though nothing came of it.');
        self::assertContains('run', $this->tablesWith('Quillaya'));
        $this->pass(2 * 86_400);
        $this->live(7 * 3_600);
        $this->signIn();
        self::assertNotNull($this->call('GET', "/api/customers/$of")['forgotten_at']);
        self::assertSame([], $this->tablesWith('Quillaya'));
        self::assertSame([], $this->tablesWith('boathouse'));

        exec(sprintf('cp -a %s %s', escapeshellarg($this->giving->data('otterpost')), escapeshellarg(
            $stick->folder().'/of Quillaya',
        )));
        $this->call('POST', '/api/imports', $asked + ['stick' => 'blue', 'path' => 'of Quillaya'], 202);
        $this->work();
        $one = $this->value($this->call('GET', '/api/imports'), 'imports', 0);
        self::assertIsArray($one);
        $made = $this->text($one, 'made', 'backup');
        $number = self::getContainer()->get(EntityManagerInterface::class)->find(Backup::class, $made)?->tray->number;
        self::assertIsInt($number);
        $this->call('POST', "/api/trays/$number/erase", ['number' => (string) $number], 202);
        self::getContainer()->get(Erasing::class)->do($number);
        $this->pass((Shop::FORGET_DAYS + 1) * 86_400);
        $this->live(7 * 3_600);
        $this->signIn();
        $other = $one['customer_id'];
        self::assertIsInt($other);
        self::assertNotNull($this->call('GET', "/api/customers/$other")['forgotten_at']);
        self::assertSame([], $this->tablesWith('Quillaya'));
        self::assertSame([], $this->tablesWith('boathouse'));
    }

    /** @return string whose conversation it is that they have taken home, as the records say it */
    private function takenHome(string $backup): string
    {
        $drawer = self::getContainer()->get(DataFolder::class)->path.'/standin/sticks';
        FolderStick::make($drawer.'/blue', 'Blue', 900_000_000, true);
        $keys = iterator_to_array(self::getContainer()->get(Vault::class)->open($backup)->chats()->keys());
        $id = array_key_first($keys);
        self::assertIsInt($id);
        $this->call('POST', "/api/backups/$backup/copies", [
            'forms' => ['table'], 'packing' => 'folder', 'stick' => 'blue', 'language' => 'en',
            'conversations' => [$id],
        ], 202);
        $this->work();
        $log = (string) json_encode($this->log());
        self::assertStringContainsString('Taken for reading, from Otterpost: \u201cquillaya', $log);

        return bin2hex($keys[$id]);
    }

    private function assertItIsNobodys(int $n, int $customer): void
    {
        $this->signIn();
        $page = $this->call('GET', "/api/customers/$customer");
        self::assertSame(['—', '', null, 1], [
            $page['name'], $page['contact'], $page['forgets_at'], count((array) $page['trays']),
        ]);
        self::assertStringStartsWith('2027-05-25', $this->text($page, 'forgotten_at'));
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertSame('—', $tray['customer']);
        self::assertStringContainsString('Forgotten whose this was', (string) json_encode($tray['steps']));
        self::assertStringContainsString('Forgotten whose this was', (string) json_encode($this->log()));
        self::assertNull(self::getContainer()->get(LogChain::class)->firstFault());
        self::assertSame([], $this->call('POST', '/api/customers/find', ['words' => 'Quillaya'])['customers']);
        $this->layPhones();
        $this->watch();
        self::assertSame('no_such_customer', $this->refusal('POST', '/api/trays', [
            'known' => $customer, 'customer' => 'x', 'contact' => 'y', 'consent' => true,
            'errand' => 'only_back_up', 'giving' => Phones::RECEIVING,
        ]));
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertSame(200, $this->browser->getResponse()->getStatusCode());
        self::assertStringNotContainsString('Quillaya', (string) $this->browser->getResponse()->getContent());
        $this->live(86_400);
        $this->signIn();
        $steps = (array) $this->call('GET', "/api/trays/$n")['steps'];
        self::assertCount(1, array_filter(
            $steps, static fn (mixed $step): bool => str_contains((string) json_encode($step), 'whose'),
        ));
    }

    private function assertIsKnown(int $customer, string $why): void
    {
        $this->signIn();
        $page = $this->call('GET', "/api/customers/$customer");
        self::assertSame([self::NAME, null], [$page['name'], $page['forgotten_at']], $why);
    }

    /** @return array{int, int} number of a tray with a backup, and its customer's id */
    private function backedUp(): array
    {
        $this->layPhones();
        $n = $this->call('POST', '/api/trays', [
            'customer' => self::NAME, 'contact' => self::CONTACT, 'consent' => true, 'errand' => 'only_back_up',
            'giving' => Phones::GIVING,
        ], 201)['number'];
        self::assertIsInt($n);
        $this->look();
        $this->askAndWork($n, ['kind' => 'backup']);

        return [$n, $this->backup($n)->customer->id()];
    }

    private function backup(int $n): Backup
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();
        foreach ($entities->getRepository(Backup::class)->findAll() as $backup) {
            if ($n === $backup->tray->number) {
                return $backup;
            }
        }
        self::fail('There is no backup.');
    }

    private function erase(int $n): void
    {
        $this->call('POST', "/api/trays/$n/erase", ['number' => (string) $n], 202);
        self::getContainer()->get(Erasing::class)->do($n);
    }

    /** @return array<array-key, mixed> */
    private function log(): array
    {
        $this->signIn('orla');
        $log = (array) $this->call('GET', '/api/log')['entries'];
        $this->signIn();

        return array_map(static fn (mixed $entry): mixed => is_array($entry) ? $entry['text'] : null, $log);
    }

    /** @return list<string> names of tables with a word in any of their columns */
    private function tablesWith(string $word, string $which = '%'): array
    {
        $records = self::getContainer()->get(EntityManagerInterface::class)->getConnection();
        $names = $records->fetchFirstColumn(
            "SELECT name FROM sqlite_schema WHERE type = 'table' AND name LIKE ? ORDER BY name", [$which],
        );
        $with = [];
        foreach (array_filter($names, is_string(...)) as $name) {
            $rows = json_encode(
                $records->fetchAllAssociative("SELECT * FROM \"$name\""),
                \JSON_UNESCAPED_UNICODE | \JSON_PARTIAL_OUTPUT_ON_ERROR,
            );
            false === stripos((string) $rows, $word) ?: $with[] = $name;
        }

        return $with;
    }

    /** By clock and machine, unseen. */
    private function pass(int $seconds): void
    {
        $this->clock->sleep($seconds);
        $this->machine->seconds += $seconds;
    }

    /** While the watch looks. */
    private function live(int $seconds): void
    {
        for ($lived = 0; $lived < $seconds; $lived += 1_800) {
            $this->pass(1_800);
            self::getContainer()->get(ShopClock::class)->look();
            self::getContainer()->get(Erasing::class)->due();
            self::getContainer()->get(Forgetting::class)->due();
            self::getContainer()->get(EntityManagerInterface::class)->clear();
        }
    }
}
