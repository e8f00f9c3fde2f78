<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\DataFolder;
use Geschenk\App\Entity\Backup;
use Geschenk\Core\Archive\Vault;
use Geschenk\Standin\Stick\FolderStick;
use Geschenk\Tests\App\ApiTestCase;
use Symfony\Component\Process\Process;

/** A conversation goes home on paper, and a page that is brought back is known again. */
final class PaperTest extends ApiTestCase
{
    private FolderStick $stick;

    protected function setUp(): void
    {
        parent::setUp();
        $this->stick = FolderStick::make($this->drawer().'/blue', 'Blue', 900_000_000, true);
    }

    public function testEachPageSaysOfWhichBackupItIsAndIsKnownAgainAlsoWhenThatIsErased(): void
    {
        [$n, $id] = $this->backedUp();
        $one = $this->conversations($id)[0];
        $made = $this->taken($id, ['conversations' => [$one['id']]]);
        $pdf = $this->only($made);
        $pages = self::pages($pdf);
        $open = self::getContainer()->get(Vault::class)->open($id);
        $codes = [];
        foreach ($pages as $place => $page) {
            self::assertStringContainsString(sprintf('Page %d of %d', $place + 1, count($pages)), $page);
            self::assertStringContainsString("Backup $id\nSHA-256 ".$open->fingerprint(), $page);
            self::assertSame(1, preg_match('/Check code ([0-9A-Z-]{14}):/', $page, $found));
            $codes[$found[1]] = true;
        }
        $code = (string) array_key_first($codes);
        self::assertCount(1, $codes);
        $text = implode("\n", $pages);
        self::assertStringContainsString("messages 1 to {$one['messages']} of {$one['messages']}", $text);
        $said = 0;
        foreach ($open->chats()->messages($one['id']) as $message) {
            // A word is not parted; what stands around it may be.
            preg_match('/[a-z]{5,20}/', $message->message->text ?? '', $word);
            self::assertStringContainsString($word[0] ?? '', $text);
            $said += [] === $word ? 0 : 1;
        }
        self::assertGreaterThan(10, $said);

        $told = $this->compared($id, strtolower(str_replace('-', ' ', $code)));
        self::assertSame([true, $open->fingerprint()], [$told['same'], $told['sha256']]);
        self::assertStringContainsString("{$one['messages']} messages", $this->text($told, 'text'));
        $others = [$code[0].strrev(substr($code, 1)), '0000-0000-0000', 'PAPER'];
        foreach ($others as $other) {
            $told = $this->compared($id, $other);
            self::assertSame([false, null], [$told['same'], $told['sha256']], $other);
        }
        // Whoever wrote another number into the records has none that the page is of.
        $this->records()->getConnection()->executeStatement(
            "UPDATE reading_copy SET made = json_set(made, '$.paper.parts[0].messages', 3)",
        );
        $this->records()->clear();
        self::assertFalse($this->compared($id, $code)['same']);
        $this->records()->getConnection()->executeStatement(
            "UPDATE reading_copy SET made = json_set(made, '$.paper.parts[0].messages', {$one['messages']})",
        );
        $this->records()->clear();
        $found = $this->call('POST', '/api/cupboard/find', ['words' => strtoupper($id)]);
        self::assertSame([$id], array_map(
            fn (mixed $row): string => $this->text((array) $row, 'of', 'id'), (array) $found['backups'],
        ), 'By what stands on the page it is found.');
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->handOver($n);
        $this->signIn('orla');
        $this->call('POST', "/api/backups/$id/erase", ['number' => "$n"], 202);
        $this->work();
        self::assertFalse($this->records()->find(Backup::class, $id)?->isKept());
        self::assertTrue($this->compared($id, $code)['same']);
        $log = (string) json_encode($this->call('GET', '/api/log?kind=look'), \JSON_UNESCAPED_UNICODE);
        self::assertStringContainsString('Compared the code of a page of Otterpost: it is of this backup', $log);
        $this->call('POST', '/api/backups/none/copies/code', ['code' => $code], 404);
    }

    public function testTheSameOnceMoreIsTheSameBytes(): void
    {
        [, $id] = $this->backedUp();
        $wish = ['conversations' => [$this->conversations($id)[0]['id']]];
        $first = $this->taken($id, $wish);
        self::assertSame($first['sha256'], $this->taken($id, $wish)['sha256']);
        self::assertNotSame($first['sha256'], $this->taken($id, ['language' => 'de'] + $wish)['sha256']);
    }

    /** @return list<array{id: int, messages: int}> of few messages, so that it takes little time */
    private function conversations(string $id): array
    {
        $list = $this->call('GET', "/api/backups/$id/conversations")['conversations'];
        self::assertIsArray($list);
        $few = [];
        foreach ($list as $one) {
            self::assertIsArray($one);
            if (is_int($one['id']) && is_int($one['messages']) && $one['messages'] > 40 && $one['messages'] <= 500) {
                $few[] = ['id' => $one['id'], 'messages' => $one['messages']];
            }
        }
        self::assertNotSame([], $few);

        return $few;
    }

    /** @return array{int, string} number of its open tray, and the id of the backup */
    private function backedUp(): array
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);

        return [$n, $this->text($this->call('GET', "/api/trays/$n"), 'moves', 0, 'backup', 'id')];
    }

    /**
     * @param array<string, mixed> $wish
     *
     * @return array<array-key, mixed> as it is listed
     */
    private function taken(string $id, array $wish): array
    {
        $this->call('POST', "/api/backups/$id/copies", $wish + [
            'forms' => ['paper'], 'packing' => 'folder', 'stick' => 'blue', 'language' => 'en',
        ], 202);
        $this->work();
        $one = $this->value($this->call('GET', "/api/backups/$id/copies"), 'copies', 0);
        self::assertIsArray($one);
        self::assertNotNull($one['made_at'] ?? null, (string) json_encode($one));

        return $one;
    }

    /** @param array<array-key, mixed> $made */
    private function only(array $made): string
    {
        $files = glob($this->stick->folder().'/'.$this->text($made, 'name').'/pdf/*.pdf') ?: [];
        self::assertCount(1, $files);
        copy($files[0], '/tmp/pp/t.pdf');

        return $files[0];
    }

    /** @return list<string> what a stranger's tool reads on each page */
    private static function pages(string $pdf): array
    {
        $read = new Process(['pdftotext', '-layout', $pdf, '-']);
        $read->mustRun();

        return explode("\f", trim($read->getOutput(), "\f"));
    }

    /** @return array<array-key, mixed> */
    private function compared(string $id, string $code): array
    {
        return $this->call('POST', "/api/backups/$id/copies/code", ['code' => $code]);
    }

    private function records(): EntityManagerInterface
    {
        return self::getContainer()->get(EntityManagerInterface::class);
    }

    private function drawer(): string
    {
        return self::getContainer()->get(DataFolder::class)->path.'/standin/sticks';
    }
}
