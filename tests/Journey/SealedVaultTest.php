<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\App\Work\Erasing;
use Geschenk\Core\Archive\Vault;
use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Core\Seal\OpenCopies;
use Geschenk\Standin\Demo\DemoMaker;
use Geschenk\Tests\App\ApiTestCase;
use Geschenk\Tests\Support\Phones;

/**
 * The whole story with a vault that keeps each backup encrypted: nothing else knows of it, and nothing of what was
 * said, nobody's name and no file lies readable among the backups whenever nothing is being made.
 */
final class SealedVaultTest extends ApiTestCase
{
    private const MARK = 'PLANTED';

    /** @var list<string> what must not be found */
    private array $planted = [];

    public function testOnePhoneIsMergedWithAnotherCheckedPutBackAndItsBackupKeptFoundBroughtAndErased(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->plant();
        $n = $this->openTray(laid: true);
        $runs = "/api/trays/$n/moves/1/runs";
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->nothingLiesOpen();
        $this->isFoundByWords($n);

        // Onto a phone that holds chats of its own, with the names.
        $before = self::contents($this->receiving->data('otterpost'));
        $this->look();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => true, 'names' => true, 'convert' => true]);
        $this->work();
        $this->nothingLiesOpen();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $move = $this->move($n);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move));
        self::assertNotSame($before, self::contents($this->receiving->data('otterpost')));
        $this->nothingLiesOpen();
        $this->call('POST', $runs, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"], 202);
        // The cable goes in the middle of it.
        Phones::plan($this->receiving, ['on' => 'push', 'do' => 'unplug', 'after_bytes' => 30_000]);
        $this->work(1);
        self::assertSame('waiting', $this->value($this->move($n), 'run', 'state'));
        Phones::plug($this->receiving);
        $this->work();
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $this->look();
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        $this->handOver($n);
        $this->nothingLiesOpen();

        // It is brought once more, out of what is kept alone.
        $id = $this->backups()[0]->id;
        Folder::remove($this->giving->path);
        $phone = Phones::receiving(
            self::getContainer()->get(DataFolder::class)->phones(), ['serial' => 'LATER00001'],
        );
        DemoMaker::rest($phone->data('otterpost'));
        $this->look();
        $tray = $this->call('POST', '/api/trays', [
            'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'errand' => 'bring_kept',
            'backups' => [$id], 'receiving' => 'LATER00001',
        ], 201);
        $later = $tray['number'];
        self::assertIsInt($later);
        $this->askAndWork($later, ['kind' => 'conversion']);
        $this->askAndWork($later, ['kind' => 'restore', 'confirmed_tag' => "$later-A"]);
        self::assertTrue($this->value($this->move($later), 'arrival', 'complete'));
        $this->handOver($later);

        foreach ([$later, $n] as $tray) {
            $this->call('POST', "/api/trays/$tray/erase", ['number' => (string) $tray], 202);
            self::getContainer()->get(Erasing::class)->do($tray);
        }
        $left = array_map(
            static fn (Backup $backup): bool => self::getContainer()->get(Vault::class)->isKept($backup->id),
            $this->backups(),
        );
        self::assertNotSame([], $left);
        self::assertSame([false], array_values(array_unique($left)));
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        gc_collect_cycles();
        $this->nothingIsLeft();
    }

    public function testAKeyThatIsNotTheOneAndAChangedByteAreSaidAndNothingIsBrought(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $key = self::getContainer()->get(DataFolder::class)->path.'/keys/demonstration';
        $right = (string) file_get_contents($key);
        file_put_contents($key, strrev($right));
        // As if it had been started with that one.
        touch(dirname($key).'/ring', 1_000_000_000);
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame('failed', $this->value($this->move($n), 'run', 'state'));
        self::assertStringContainsString('not the key of this shop', $this->text($this->move($n), 'run', 'trouble'));
        $this->call('GET', $this->backupPath($n).'/conversations', null, 422);
        file_put_contents($key, $right);
        touch(dirname($key).'/ring', 1_000_000_001);
        $run = $this->text($this->move($n), 'run', 'id');
        $this->call('POST', "/api/trays/$n/moves/1/runs/$run/go-on", null, 202);
        $this->work();
        self::assertTrue($this->value($this->move($n), 'rehearsal', 'complete'));
        $folder = self::getContainer()->get(DataFolder::class)->backups().'/'.$this->backups()[0]->id.'.sealed';
        foreach (Folder::files($folder) as $path) {
            file_put_contents("$folder/$path", strrev((string) file_get_contents("$folder/$path")));
        }
        self::getContainer()->get(OpenCopies::class)->sweep(0);
        $this->call('GET', $this->backupPath($n).'/conversations', null, 422);
    }

    /** What is said, a name, a file's name and what is in it. */
    private function plant(): void
    {
        $data = $this->giving->data('otterpost');
        $database = new \SQLite3($data.'/pouch.db');
        $database->enableExceptions(true);
        $texts = [];
        $rows = $database->query('SELECT DISTINCT body FROM slip WHERE length(body) BETWEEN 20 AND 60 LIMIT 90')
            ?: self::fail('There are texts.');
        while (false !== ($row = $rows->fetchArray(\SQLITE3_NUM))) {
            $texts[] = is_string($row[0]) ? $row[0] : '';
        }
        self::assertGreaterThan(30, count($texts));
        $database->close();
        $photo = null;
        foreach (Folder::files($data, 'parcels') as $path) {
            $photo = $path;
            file_put_contents($data.'/'.$path, self::MARK.' in a file', \FILE_APPEND);
            break;
        }
        self::assertIsString($photo);
        DemoMaker::rest($data);
        $this->planted = [...$texts, self::MARK, basename($photo)];
    }

    private function isFoundByWords(int $n): void
    {
        $path = $this->backupPath($n);
        $conversations = $this->call('GET', "$path/conversations")['conversations'];
        self::assertNotEmpty($conversations);
        self::assertIsArray($conversations);
        self::assertGreaterThan(0, $this->call('GET', "$path/across/kinds/photos")['total']);
        $this->call('PUT', "$path/across/uncovered");
        $found = $this->call('POST', "$path/across/words", ['words' => substr($this->planted[0], 0, 15)])['messages'];
        self::assertNotSame([], $found);
    }

    /** Backups and what runs have left; records tell no text, and what is unsealed for a while is in memory alone. */
    private function nothingLiesOpen(): void
    {
        $data = self::getContainer()->get(DataFolder::class);
        foreach ([$data->backups(), $data->path.'/trays'] as $folder) {
            $files = iterator_to_array(Folder::files($folder), false);
            $folder !== $data->backups() ?: self::assertNotSame([], $files);
            $this->areNotIn($folder, $files, [...$this->planted, 'SQLite format 3']);
        }
        self::assertDirectoryDoesNotExist($data->workings());
        $others = array_values(array_filter(
            iterator_to_array(Folder::files($data->path), false),
            static fn (string $path): bool => 1 !== preg_match('#^(standin|memory|backups|trays)/#', $path),
        ));
        $this->areNotIn($data->path, $others, $this->planted);
    }

    /** Of what was erased nothing is anywhere in the shop's data: not in records, copies, scratch, sessions, memory. */
    private function nothingIsLeft(): void
    {
        $data = self::getContainer()->get(DataFolder::class)->path;
        $files = array_values(array_filter(
            iterator_to_array(Folder::files($data), false),
            static fn (string $path): bool => !str_starts_with($path, 'standin/'),
        ));
        self::assertGreaterThan(3, count($files));
        $this->areNotIn($data, $files, $this->planted);
    }

    /**
     * @param list<string> $files
     * @param list<string> $planted
     */
    private function areNotIn(string $folder, array $files, array $planted): void
    {
        foreach ($files as $path) {
            $text = $path."\n".file_get_contents($folder.'/'.$path);
            $found = array_filter($planted, static fn (string $one): bool => str_contains($text, $one));
            self::assertSame([], $found, $path);
        }
    }

    /** @return list<Backup> */
    private function backups(): array
    {
        $entities = self::getContainer()->get(EntityManagerInterface::class);
        $entities->clear();

        return $entities->getRepository(Backup::class)->findBy([], ['counter' => 'ASC']);
    }
}
