<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Doctrine\DBAL\Configuration;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\Driver\SQLite3\Driver;
use Doctrine\DBAL\Exception;
use Doctrine\ORM\EntityManagerInterface;
use Geschenk\App\ImmediateTransactions;
use Geschenk\App\Records;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** A page reads while a worker stores: what is shown together belongs together. */
final class RecordsTest extends TestCase
{
    use Scratch;

    private Connection $page;
    private Connection $worker;

    protected function setUp(): void
    {
        [$this->page, $this->worker] = [$this->connect(), $this->connect()];
        $this->worker->executeStatement('CREATE TABLE bringing (rehearsal TEXT)');
        $this->worker->executeStatement('CREATE TABLE run (state TEXT)');
        $this->worker->executeStatement('INSERT INTO bringing VALUES (NULL)');
        $this->worker->executeStatement("INSERT INTO run VALUES ('working')");
    }

    public function testWhatIsReadTogetherIsOfOneMoment(): void
    {
        $records = $this->records();
        $look = fn (): array => $records->look(function (): array {
            $rehearsal = $this->page->fetchOne('SELECT rehearsal FROM bringing');
            $this->finish();

            return [$rehearsal, $this->page->fetchOne('SELECT state FROM run')];
        });
        self::assertSame([null, 'working'], $look());
        self::assertSame(['adds up', 'done'], $look());
    }

    public function testNothingIsChangedInAPicture(): void
    {
        $records = $this->records();
        try {
            $records->look(fn (): mixed => $records->change(
                fn () => $this->page->executeStatement("UPDATE run SET state = 'lost'"),
            ));
            self::fail('A picture was painted over.');
        } catch (Exception $error) {
            self::assertStringContainsString('within a transaction', $error->getMessage());
        }
        self::assertSame('working', $this->worker->fetchOne('SELECT state FROM run'));
        // And it is over with what went wrong in it: the next change goes through.
        $records->change(fn () => $this->page->executeStatement("UPDATE run SET state = 'waiting'"));
        self::assertSame('waiting', $this->worker->fetchOne('SELECT state FROM run'));
    }

    private function finish(): void
    {
        $this->worker->transactional(static function (Connection $worker): void {
            $worker->executeStatement("UPDATE bringing SET rehearsal = 'adds up'");
            $worker->executeStatement("UPDATE run SET state = 'done'");
        });
    }

    private function records(): Records
    {
        $entities = self::createStub(EntityManagerInterface::class);
        $entities->method('getConnection')->willReturn($this->page);

        return new Records($entities);
    }

    private function connect(): Connection
    {
        $params = ['driver' => 'sqlite3', 'path' => $this->path('records.sqlite')];
        $driver = (new ImmediateTransactions())->wrap(new Driver());

        return new Connection($params, $driver, new Configuration());
    }
}
